/** A number as a person types it: with a decimal point or comma; undefined for none, null for what is no number. */
export function typedNumber(text: string): number | undefined | null {
  const trimmed = text.trim().replace(',', '.');
  if (trimmed === '') return undefined;
  const value = Number(trimmed);
  return Number.isFinite(value) ? value : null;
}
