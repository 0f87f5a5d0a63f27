/** A cell of a file as its reader hands it over. Times that are no text come as the text that says all of them. */
export type FileCell = string | number | bigint | boolean | null;

export const isGiven = (cell: FileCell): cell is Exclude<FileCell, null> => cell !== null && cell !== '';

export const shownCell = (cell: FileCell): string => String(cell ?? '');
