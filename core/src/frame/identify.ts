/** What a device says of itself. Empty texts are left out. */
export interface Identity {
  /** `43/14` device identification, or `17` report server id. */
  by: '43/14' | '17';
  texts: { name: string; text: string }[];
}

export const READ_DEVICE_IDENTIFICATION = 43;
export const REPORT_SERVER_ID = 17;
const MEI_IDENTIFICATION = 14;
const BASIC = 1;
const CONFORMITY_BASIC = 1;
const objectNames: Readonly<Record<number, string>> = { 0: 'vendor', 1: 'product code', 2: 'revision', 3: 'vendor URL', 4: 'product name' };

/** Asks for the basic identification in one stream (V1.1b3, 6.21). */
export function identificationRequest(): Uint8Array {
  return Uint8Array.of(READ_DEVICE_IDENTIFICATION, MEI_IDENTIFICATION, BASIC, 0);
}

/** Asks what runs there (V1.1b3, 6.13); serial lines only by the standard, many devices take it anyway. */
export function serverIdRequest(): Uint8Array {
  return Uint8Array.of(REPORT_SERVER_ID);
}

/** The answer of a device with these basic objects: vendor, product code, revision. Texts are cut to what one PDU holds. */
export function identificationAnswer(texts: readonly [string, string, string]): Uint8Array {
  const objects = texts.flatMap((text, id) => {
    const bytes = [...text.slice(0, 70)].map((character) => character.charCodeAt(0) & 0x7f);
    return [id, bytes.length, ...bytes];
  });
  return Uint8Array.of(READ_DEVICE_IDENTIFICATION, MEI_IDENTIFICATION, BASIC, CONFORMITY_BASIC, 0, 0, texts.length, ...objects);
}

/** The answer to function 17: an id text and whether it runs. */
export function serverIdAnswer(text: string, runs: boolean): Uint8Array {
  const bytes = [...text.slice(0, 200)].map((character) => character.charCodeAt(0) & 0x7f);
  return Uint8Array.of(REPORT_SERVER_ID, bytes.length + 1, ...bytes, runs ? 0xff : 0);
}

/** What an answer to either request says; null where it says nothing, is an exception, or is cut short. */
export function readIdentity(pdu: Uint8Array): Identity | null {
  if (pdu[0] === READ_DEVICE_IDENTIFICATION && pdu[1] === MEI_IDENTIFICATION) {
    const texts: Identity['texts'] = [];
    let at = 7;
    for (let count = pdu[6] ?? 0; count > 0; count--) {
      const [id, length] = [pdu[at], pdu[at + 1]];
      if (id === undefined || length === undefined || at + 2 + length > pdu.length) return null;
      texts.push({ name: objectNames[id] ?? `object ${id}`, text: printable(pdu.subarray(at + 2, at + 2 + length)) });
      at += 2 + length;
    }
    return { by: '43/14', texts: texts.filter(({ text }) => text) };
  }
  if (pdu[0] === REPORT_SERVER_ID && pdu.length > 2 && pdu[1] === pdu.length - 2) {
    const text = printable(pdu.subarray(2, -1));
    return { by: '17', texts: text ? [{ name: 'id', text }] : [] };
  }
  return null;
}

function printable(bytes: Uint8Array): string {
  return [...bytes]
    .map((byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : ' '))
    .join('')
    .trim();
}
