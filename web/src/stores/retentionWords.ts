/** How a retention reads. */
export const retentionWords = (months: number | null): string =>
  months === null ? 'everything is kept' : months === 1 ? '1 month is kept' : `${months} months are kept`;
