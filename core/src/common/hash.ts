/** 53 bits, which is enough to tell two states of one thing apart; it is no defence against anybody (after cyrb53). */
export function hash(text: string): string {
  let [a, b] = [0xdead_beef, 0x41c6_ce57];
  for (let index = 0; index < text.length; index++) {
    const code = text.charCodeAt(index);
    a = Math.imul(a ^ code, 2_654_435_761);
    b = Math.imul(b ^ code, 1_597_334_677);
  }
  a = Math.imul(a ^ (a >>> 16), 2_246_822_507) ^ Math.imul(b ^ (b >>> 13), 3_266_489_909);
  b = Math.imul(b ^ (b >>> 16), 2_246_822_507) ^ Math.imul(a ^ (a >>> 13), 3_266_489_909);
  return (4_294_967_296 * (2_097_151 & b) + (a >>> 0)).toString(36);
}
