import * as z from 'zod';

/** The version of the files of our own that this program writes. It is counted up whenever they keep something that older programs would refuse. */
export const FILE_VERSION = 3;

/** The version of a file: this one, or an older one that is still read. */
export const FileVersion = z
  .int('A version is a whole number.')
  .min(1, 'Versions begin at 1.')
  .max(
    FILE_VERSION,
    `This file was written by a newer Plain Envoy; this one reads versions up to ${FILE_VERSION}. Take it in there, or bring this one up to date.`,
  );
