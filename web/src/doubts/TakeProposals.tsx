import type { Doubt, Tag } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { useEdit } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { ownSettings } from '../keeping/settings.ts';
import { get } from '../server/calls.ts';
import { lengthWords } from '../window/times.ts';

/** The interval that a doubt proposes for its tag, in milliseconds; null where it proposes none. */
const proposalOf = ({ kind, evidence }: Doubt): number | null =>
  (kind === 'too slow' || kind === 'wasteful') && typeof evidence.proposedMilliseconds === 'number'
    ? evidence.proposedMilliseconds
    : null;

/** Takes the intervals that doubts propose into the draft, each as a setting of its tag's own. */
export function TakeProposals({ doubts }: { readonly doubts: readonly Doubt[] }) {
  const edit = useEdit();
  const proposals = doubts.flatMap((doubt) => {
    const proposed = proposalOf(doubt);
    return proposed === null || doubt.tag === null ? [] : [{ tag: doubt.tag, proposed }];
  });
  const take = useMutation({
    mutationFn: async () => {
      const tags = await Promise.all(
        proposals.map(async ({ tag, proposed }) => ({
          tag: await get<Tag>(`/tags/${encodeURIComponent(tag)}`),
          proposed,
        })),
      );
      return edit.mutateAsync(
        tags
          .filter(({ tag }) => tag.collection !== null)
          .map(({ tag, proposed }) => ({
            kind: 'tag',
            id: tag.id,
            set: { settings: ownSettings(tag, { intervalMilliseconds: proposed }) },
          })),
      );
    },
  });
  if (proposals.length === 0) return null;
  return (
    <>
      {take.error && <Failure error={take.error} />}
      {take.isSuccess && <span role="status">In your draft.</span>}
      <Button disabled={take.isPending} onClick={() => take.mutate()}>
        {proposals.length === 1
          ? `Read it every ${lengthWords(proposals[0]!.proposed)}`
          : `Take ${showNumber(proposals.length)} proposed intervals into the draft`}
      </Button>
    </>
  );
}
