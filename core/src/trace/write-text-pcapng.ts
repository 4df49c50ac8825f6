import { joined } from '../common/index.js';
import { interfaceBlock, packetBlock, sectionBlock } from './pcapng-blocks.js';

/** The first link type that is free for any use (LINKTYPE_USER0): an analyser shows its packets as they are. */
const OF_ONES_OWN = 147;

/** A text as it went over a line: when, ms since 1970, which way, its bytes, and what it is in a sentence. */
export interface TextPacket {
  atMs: number;
  direction: 'heard' | 'sent';
  bytes: Uint8Array;
  comment: string;
}

/** The texts of one line as a pcapng file: a packet each, with its direction, and what it is as the comment of the packet. */
export function writeTextPcapng(texts: readonly TextPacket[]): Uint8Array {
  const packets = texts.map(({ atMs, direction, bytes, comment }) =>
    packetBlock(atMs, bytes, { comment, direction: direction === 'heard' ? 'in' : 'out' }),
  );
  return joined([sectionBlock(), interfaceBlock(OF_ONES_OWN), ...packets]);
}
