// The WHATWG Encoding interfaces, which every JavaScript runtime has but the ECMAScript library types lack.
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}
declare class TextEncoder {
  encode(text: string): Uint8Array;
}
