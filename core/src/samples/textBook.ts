/** Texts of several frames under one numbering, so that equal texts are equal numbers. */
import type { Frame } from '../frame/frame.ts';

export interface TextBook {
  /** The frame with its values as positions in this book; frames of numbers come back as they are. */
  recode(frame: Frame): Frame;
  /** The text of a position; null where there is none. */
  textOf(position: number): string | null;
}

/** A list of texts in which each stands once, for the positions that a frame's samples hold. */
export function textBook(): TextBook {
  const positions = new Map<string, number>();
  const texts: string[] = [];
  const positionOf = (text: string): number => {
    const known = positions.get(text);
    if (known !== undefined) return known;
    positions.set(text, texts.length);
    return texts.push(text) - 1;
  };
  return {
    recode(frame) {
      if (frame.texts.length === 0) return frame;
      const recoded = frame.texts.map(positionOf);
      return { ...frame, values: frame.values.map((position) => recoded[position] ?? NaN), texts };
    },
    textOf: (position) => texts[position] ?? null,
  };
}
