/** Address ranges of two private networks that a link joins: where they overlap, nobody knows whom an address means. */
import { Address4, Address6 } from 'ip-address';
import { badRequest } from '../../ground/index.ts';

interface Range {
  readonly text: string;
  readonly version: 4 | 6;
  readonly first: bigint;
  readonly last: bigint;
}

/** An address of version 4 written as one of version 6 (RFC 4291, 2.5.5.2) is that of version 4. */
const MAPPED = 0xffffn << 32n;

/** A range such as 10.1.0.0/16, fd00::/64 or ::ffff:10.1.0.0/112. @throws ProblemError 400 */
function rangeOf(text: string): Range {
  if (Address4.isValid(text)) {
    const address = new Address4(text);
    return { text, version: 4, first: address.startAddress().bigInt(), last: address.endAddress().bigInt() };
  }
  if (!Address6.isValid(text))
    throw badRequest(`"${text}" is no range of addresses. Write one such as 10.1.0.0/16 or fd00:1::/48.`);
  const address = new Address6(text);
  const first = address.startAddress().bigInt();
  const last = address.endAddress().bigInt();
  return first >= MAPPED && last <= MAPPED + 0xffffffffn
    ? { text, version: 4, first: first - MAPPED, last: last - MAPPED }
    : { text, version: 6, first, last };
}

/** What of one network lies in the other, with what to change. @throws ProblemError 400 where something is no range. */
export function overlapsOf(
  here: readonly string[],
  there: readonly string[],
): { readonly here: string; readonly there: string; readonly sentence: string }[] {
  const others = there.map(rangeOf);
  return here
    .map(rangeOf)
    .flatMap((own) =>
      others
        .filter(({ version, first, last }) => version === own.version && first <= own.last && own.first <= last)
        .map((other) => ({ here: own.text, there: other.text, sentence: sentenceOf(own, other) })),
    );
}

function sentenceOf(here: Range, there: Range): string {
  const what =
    here.first === there.first && here.last === there.last
      ? `Both networks use ${here.text}${here.text === there.text ? '' : ` (there written ${there.text})`}.`
      : here.first <= there.first && there.last <= here.last
        ? `${there.text} there lies within ${here.text} here.`
        : there.first <= here.first && here.last <= there.last
          ? `${here.text} here lies within ${there.text} there.`
          : `${here.text} here and ${there.text} there overlap.`;
  return `${what} Give one of them other addresses, or let a gateway translate them; a link itself needs only that this site reaches the one address of the far end.`;
}
