const ONE = String.raw`(?:0x[0-9a-f]{1,5}|(?=[a-f]{0,4}\d)[0-9a-f]{1,5}\s?h|[0134][x:]\d{1,5}|\d{1,6}|\d{1,3}[ ,]\d{3}|(?=[a-f]{0,3}\d)[0-9a-f]{2,4}|%?[a-z]{1,3}\d{1,5})(?:\.\d{1,2})?`;
const ADDRESS = new RegExp(String.raw`^\(?${ONE}(?:\s?(?:[-–—…/+&,~]|\.{2,3}|to|bis|à|a)\s?${ONE})?\)?[*¹²³]?$`, 'i');
const BEGUN = new RegExp(String.raw`^${ONE}\s?(?:[-–—…/+]|\.{2,3}|to|bis)$`, 'i');

/** Whether a text may be the address of a register, or a range of them. */
export function isAddressLike(text: string): boolean {
  return ADDRESS.test(text.trim());
}

/** A range of which only the first address stands there yet. */
export function isRangeBegun(text: string): boolean {
  return BEGUN.test(text.trim());
}

const SUB_ROW = /^(?:bits?\s*\d|b\d{1,2}\b|0x[0-9a-f]+\s*[=:–-]|-?\d{1,5}\s*(?:[=:–]|-\s)|\d{1,2}\s*\.\.\.?\s*\d{1,2}\b)/i;

/** Whether a text is about a bit of a register or one of its codes. */
export function isBitOrCode(text: string): boolean {
  return SUB_ROW.test(text.trim());
}
