/** A cell of a file as its reader hands it over. Times that are no text come as the text that says all of them. */
export type FileCell = string | number | bigint | boolean | null;

/** Whether a cell holds something; an empty text is as empty as no cell. */
export const isGiven = (cell: FileCell): cell is Exclude<FileCell, null> => cell !== null && cell !== '';

/** A cell as a person sees it in a list of examples. */
export const shownCell = (cell: FileCell): string => String(cell ?? '');
