import type { OpenSession } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { SureButton } from '../controls/SureButton.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { remove } from '../server/calls.ts';
import { stamp } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

interface Props {
  readonly session: OpenSession;
  readonly onClose: () => void;
}

/** A session, and its end. */
export function SessionLeaf({ session, onClose }: Props) {
  const zone = useZone();
  const client = useQueryClient();
  const end = useMutation({
    mutationFn: () => remove(session.own ? '/session' : `/sessions/${session.id}`),
    onSuccess: async () => {
      if (session.own) location.assign('/');
      await askAnew(client, ['sessions']);
      onClose();
    },
  });
  const at = (time: string): string => stamp(Date.parse(time), zone);
  return (
    <Leaf title={session.name} below={session.own ? 'your own session' : 'signed in'} onClose={onClose}>
      <Facts
        rows={[
          ['Since', <span className="figure">{at(session.since)}</span>],
          ['Seen', <span className="figure">{at(session.seen)}</span>],
          ['Ends', <span className="figure">{at(session.ends)}</span>],
          ['From', <span className="figure">{session.whence}</span>],
          ['With', session.agent || 'a program that says nothing of itself'],
        ]}
      />
      {end.error && <Failure error={end.error} />}
      <div className="mt-3">
        <SureButton
          label={session.own ? 'Sign out' : 'End this session'}
          sure={session.own ? 'Sign out now?' : `End it? ${session.name} has to sign in again.`}
          disabled={end.isPending}
          onSure={() => end.mutate()}
        />
      </div>
    </Leaf>
  );
}
