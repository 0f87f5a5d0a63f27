import { useMutation } from '@tanstack/react-query';
import { Failure } from '../controls/States.tsx';
import { SureButton } from '../controls/SureButton.tsx';
import { JobState } from '../jobs/JobState.tsx';
import { post } from '../server/calls.ts';
import { windowWords } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';

/** Has a derived tag computed for the window that is looked at, as its formula is now. */
export function ComputePast({ tag }: { readonly tag: string }) {
  const { from, to } = useWindow();
  const zone = useZone();
  const order = useMutation({
    mutationFn: () =>
      post<{ job: number }>('/computations', {
        tag,
        from: new Date(from).toISOString(),
        to: new Date(to).toISOString(),
      }),
  });
  return (
    <section aria-label="Compute the past" className="mt-3 border-t border-rule pt-2">
      <p className="mb-1.5 text-ink-2">
        For {windowWords(from, to, zone)} it can be computed as its formula is now; what stood there goes to the
        modified history.
      </p>
      <SureButton label="Compute this window" sure="Compute and write" onSure={() => order.mutate()} />
      {order.error && <Failure error={order.error} />}
      {order.data && (
        <JobState id={order.data.job} name={`Computing ${tag}`} changes={['raw', 'envelope', 'coverage']} />
      )}
    </section>
  );
}
