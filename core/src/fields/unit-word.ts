const UNIT =
  /^(°|º)?[cfk]$|^%|^(k|m|µ|u|M|G)?(v|a|w|wh|va|var|varh|vah|hz|pa|bar|ohm|Ω|j|n|g|m|s|l|h|min|kg|t|rpm|m3|m³|bar|ppm|lx|db|psi|deg|nm|inch|in|ft|gal)(\/(s|h|min|m|m3|m³|kg|l))?$|^(l|m3|m³|kg|t)\/(h|min|s)$|^1?\/min$|^days?$|^cos/i;

export function looksLikeUnit(text: string): boolean {
  return text.length <= 12 && UNIT.test(text.trim());
}
