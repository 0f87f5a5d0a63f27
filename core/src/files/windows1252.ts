/**
 * Letters in Windows-1252. The platform's own decoder takes it for Latin-1 in some versions, where 0x80 to 0x9F are control
 * characters instead of €, quotation marks and dashes. Source: the index of the WHATWG Encoding Standard, windows-1252.
 */

/** What 0x80 to 0x9F stand for. */
const UPPER = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

/** Every sequence of bytes is a text. */
export function fromWindows1252(bytes: Uint8Array): string {
  const latin = new TextDecoder('latin1').decode(bytes);
  return latin.replace(/[\u0080-\u009f]/g, (letter) => UPPER[letter.charCodeAt(0) - 0x80]!);
}
