/** How the text of a JSON value is built, found without taking it apart: how deep, of how many parts, and where its long lists may be cut. */

/** The deepest that anything of the interface nests is about ten. */
const DEEPEST = 40;
/** A list is cut into pieces of about so many bytes: a few milliseconds of work each. */
const PIECE_BYTES = 128 * 1024;
/** One piece that cannot be cut may have so many values: as many as are read within tens of milliseconds. */
const MOST_IN_A_PIECE = 400_000;

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const COMMA = 0x2c;
const OPENING = { list: 0x5b, object: 0x7b };
const CLOSING = { list: 0x5d, object: 0x7d };

/** A list that is a member of the whole. Its brackets' places, and the places of commas at which it may be cut. */
export interface LongList {
  readonly open: number;
  close: number;
  readonly cuts: number[];
}

/** What is too deep or of too many parts to be taken apart; its message goes on a sentence that begins with what it was found in. */
export class CrowdedJson extends Error {}

/**
 * Walks through the bytes of a JSON text. Whether the text is well formed is not looked at: whoever takes the pieces
 * apart finds out.
 */
export class JsonShape {
  readonly lists: LongList[] = [];
  private readonly within: number[] = [];
  private at = 0;
  private parts = 0;
  private pieceValues = 0;
  private pieceBegin = 0;
  private list: LongList | null = null;

  /** @param most objects and arrays in it, at most. */
  constructor(
    private readonly bytes: Uint8Array,
    private readonly most: number,
  ) {}

  get done(): boolean {
    return this.at >= this.bytes.length;
  }

  /** Whether all that was opened is closed. */
  get closed(): boolean {
    return this.within.length === 0;
  }

  /** Goes on for so many bytes, or to the end of a text that begins there. @throws CrowdedJson */
  walk(count: number): void {
    const { bytes } = this;
    const until = Math.min(bytes.length, this.at + count);
    while (this.at < until) {
      const byte = bytes[this.at]!;
      if (byte === QUOTE) this.passText();
      else if (byte === OPENING.list || byte === OPENING.object) this.open(byte);
      else if (byte === CLOSING.list || byte === CLOSING.object) this.close();
      else if (byte === COMMA) this.comma();
      this.at++;
    }
  }

  private passText(): void {
    const { bytes } = this;
    for (this.at++; this.at < bytes.length && bytes[this.at] !== QUOTE; this.at++)
      if (bytes[this.at] === BACKSLASH) this.at++;
  }

  private open(byte: number): void {
    if (this.within.length === DEEPEST) throw new CrowdedJson(`nests more than ${DEEPEST} deep. Nothing here does.`);
    if (++this.parts > this.most)
      throw new CrowdedJson(`is made of more than ${this.most} objects and arrays. Send it in several requests.`);
    this.count();
    if (this.within.length === 1 && this.within[0] === OPENING.object && byte === OPENING.list) {
      this.list = { open: this.at, close: -1, cuts: [] };
      this.pieceBegin = this.at;
      this.pieceValues = 0;
    }
    this.within.push(byte);
  }

  private close(): void {
    this.within.pop();
    if (this.list === null || this.within.length !== 1) return;
    this.list.close = this.at;
    if (this.list.cuts.length > 0) this.lists.push(this.list);
    this.list = null;
  }

  private comma(): void {
    this.count();
    if (this.list === null || this.within.length !== 2 || this.at - this.pieceBegin < PIECE_BYTES) return;
    this.list.cuts.push(this.at);
    this.pieceBegin = this.at;
    this.pieceValues = 0;
  }

  private count(): void {
    if (++this.pieceValues > MOST_IN_A_PIECE)
      throw new CrowdedJson(`holds more than ${MOST_IN_A_PIECE} values in one member. Send it in several requests.`);
  }
}
