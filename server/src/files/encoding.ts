import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

export interface DecodedText {
  text: string;
  /** As it is told to a person: “UTF-16 LE with a byte-order mark”. */
  encoding: string;
}

interface Mark {
  bytes: number[];
  label: string;
  name: string;
}

const marks: Mark[] = [
  { bytes: [0xef, 0xbb, 0xbf], label: 'utf-8', name: 'UTF-8' },
  { bytes: [0xff, 0xfe], label: 'utf-16le', name: 'UTF-16 LE' },
  { bytes: [0xfe, 0xff], label: 'utf-16be', name: 'UTF-16 BE' },
];

/** What a file that is no text starts with, and what it is then. */
const others: [signature: string, what: string][] = [
  ['\x89PNG', 'a PNG picture'],
  ['\xff\xd8\xff', 'a JPEG picture'],
  ['GIF8', 'a GIF picture'],
  ['\xd0\xcf\x11\xe0', 'a workbook of the old binary kind; save it as XLSX or CSV'],
  ['\x1f\x8b', 'a compressed file; unpack it first'],
  ['\x7fELF', 'a program'],
];

/**
 * Bytes to text: by their byte-order mark, else as UTF-8 where they are valid UTF-8, else as UTF-16 where every other byte
 * is zero, else as Windows-1252. What is no text at all is told apart.
 */
export function decodeText(bytes: Uint8Array): Outcome<DecodedText> {
  if (bytes.length === 0) return bad('The file is empty.');
  const start = String.fromCharCode(...bytes.subarray(0, 8));
  const other = others.find(([signature]) => start.startsWith(signature));
  if (other) return bad(`This is ${other[1]}, no text.`);
  const mark = marks.find((known) => known.bytes.every((byte, index) => bytes[index] === byte));
  if (mark) return decoded(bytes.subarray(mark.bytes.length), mark.label, `${mark.name} with a byte-order mark`);
  const [even, odd] = zeros(bytes);
  if (odd > 0.3 && even < 0.05) return decoded(bytes, 'utf-16le', 'UTF-16 LE without a byte-order mark');
  if (even > 0.3 && odd < 0.05) return decoded(bytes, 'utf-16be', 'UTF-16 BE without a byte-order mark');
  if (bytes.includes(0)) return bad('The file holds zero bytes, so it is no text.');
  const plain = decoded(bytes, 'utf-8', bytes.some((byte) => byte > 127) ? 'UTF-8' : 'ASCII');
  return plain.ok ? plain : decoded(bytes, 'windows-1252', 'Windows-1252');
}

function decoded(bytes: Uint8Array, label: string, encoding: string): Outcome<DecodedText> {
  try {
    const text = new TextDecoder(label, { fatal: true, ignoreBOM: true }).decode(bytes);
    return text.trim() ? good({ text, encoding }) : bad(`The file holds nothing but blanks (${encoding}).`);
  } catch {
    return bad(`The file says that it is ${encoding}, but its bytes are not.`);
  }
}

/** The share of zeros among the bytes at even and at odd places. */
function zeros(bytes: Uint8Array): [even: number, odd: number] {
  const looked = bytes.subarray(0, 4096);
  const share = (first: 0 | 1) => {
    let zero = 0;
    for (let at = first; at < looked.length; at += 2) if (looked[at] === 0) zero += 1;
    return zero / Math.max(1, looked.length / 2);
  };
  return [share(0), share(1)];
}
