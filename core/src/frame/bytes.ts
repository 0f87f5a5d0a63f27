/** Growing and walking byte strings: the alphabet of the frame codec. */

const TWO_31 = 0x80000000;

/** A growing byte string. Unsigned varints are little-endian base 128 and exact up to 2^53. */
export class ByteWriter {
  private buffer: Uint8Array;
  private view: DataView;
  position = 0;

  constructor(capacity = 256) {
    this.buffer = new Uint8Array(capacity);
    this.view = new DataView(this.buffer.buffer);
  }

  private reserve(more: number): void {
    const needed = this.position + more;
    if (needed <= this.buffer.length) return;
    const grown = new Uint8Array(Math.max(needed, this.buffer.length * 2));
    grown.set(this.buffer.subarray(0, this.position));
    this.buffer = grown;
    this.view = new DataView(grown.buffer);
  }

  byte(value: number): void {
    this.reserve(1);
    this.buffer[this.position++] = value;
  }

  varint(value: number): void {
    this.reserve(8);
    let rest = value;
    while (rest >= TWO_31) {
      this.buffer[this.position++] = (rest % 128) | 0x80;
      rest = Math.floor(rest / 128);
    }
    let small = rest | 0;
    while (small >= 0x80) {
      this.buffer[this.position++] = (small & 0x7f) | 0x80;
      small >>>= 7;
    }
    this.buffer[this.position++] = small;
  }

  /** A signed whole number, |value| < 2^52, folded so that small magnitudes stay short. */
  zigzag(value: number): void {
    this.varint(value < 0 ? -2 * value - 1 : 2 * value);
  }

  float64(value: number): void {
    this.reserve(8);
    this.view.setFloat64(this.position, value, true);
    this.position += 8;
  }

  bytes(source: Uint8Array): void {
    this.reserve(source.length);
    this.buffer.set(source, this.position);
    this.position += source.length;
  }

  /** A copy of what was written. */
  finish(): Uint8Array {
    return this.buffer.slice(0, this.position);
  }
}

/** Walks a byte string; every read past the end throws a {@link FrameError} rather than inventing zeros. */
export class ByteReader {
  private readonly view: DataView;

  constructor(
    readonly buffer: Uint8Array,
    public position = 0,
  ) {
    this.view = new DataView(buffer.buffer, buffer.byteOffset, buffer.byteLength);
  }

  get remaining(): number {
    return this.buffer.length - this.position;
  }

  byte(): number {
    const value = this.buffer[this.position];
    if (value === undefined) throw new FrameError('it ends early');
    this.position++;
    return value;
  }

  varint(): number {
    const { buffer } = this;
    let byte = buffer[this.position++];
    if (byte === undefined) throw new FrameError('it ends early');
    if (byte < 0x80) return byte;
    let value = byte & 0x7f;
    let scale = 128;
    for (;;) {
      byte = buffer[this.position++];
      if (byte === undefined) throw new FrameError('it ends early');
      value += (byte & 0x7f) * scale;
      if (byte < 0x80) return value;
      scale *= 128;
      if (scale > 2 ** 56) throw new FrameError('a number in it is too long');
    }
  }

  zigzag(): number {
    const folded = this.varint();
    return folded % 2 === 0 ? folded / 2 : -(folded + 1) / 2;
  }

  /**
   * So many zigzag numbers in a row. The short ones, nearly all, are read without a call each: this loop is what
   * reading a year of history waits for.
   */
  zigzags(into: Float64Array): Float64Array {
    const { buffer } = this;
    let position = this.position;
    for (let i = 0; i < into.length; i++) {
      const first = buffer[position]!;
      if (first < 0x80) {
        into[i] = (first >>> 1) ^ -(first & 1);
        position++;
        continue;
      }
      const second = buffer[position + 1]!;
      if (second < 0x80) {
        const folded = (first & 0x7f) | (second << 7);
        into[i] = (folded >>> 1) ^ -(folded & 1);
        position += 2;
        continue;
      }
      this.position = position;
      into[i] = this.zigzag();
      position = this.position;
    }
    this.position = position;
    return into;
  }

  float64(): number {
    if (this.remaining < 8) throw new FrameError('it ends early');
    const value = this.view.getFloat64(this.position, true);
    this.position += 8;
    return value;
  }

  bytes(length: number): Uint8Array {
    if (this.remaining < length) throw new FrameError('it ends early');
    const part = this.buffer.subarray(this.position, this.position + length);
    this.position += length;
    return part;
  }
}

/** Bytes that are not what they claim to be. The message completes the sentence "This is not a frame: …". */
export class FrameError extends Error {
  constructor(reason: string) {
    super(`This is not a frame: ${reason}.`);
    this.name = 'FrameError';
  }
}
