/** Access: who is signed in, and the keys of programs; ending and revoking, making keys, the password of SQL tools. */
import type { KnownKey, OpenSession } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showAgo } from '../controls/values.ts';
import { useSelection } from '../frame/useSelection.ts';
import { get } from '../server/calls.ts';
import { KeyLeaf } from './KeyLeaf.tsx';
import { NewKeyLeaf } from './NewKeyLeaf.tsx';
import { ReaderLeaf } from './ReaderLeaf.tsx';
import { SessionLeaf } from './SessionLeaf.tsx';

const NEW = 'new';
const READER = 'reader';
const sessionKey = ({ id }: OpenSession): string => `session:${id}`;
const keyKey = ({ id }: KnownKey): string => `key:${id}`;

const REFRESH_MILLISECONDS = 5000;

const useSessions = () =>
  useQuery({
    queryKey: ['sessions'],
    queryFn: () => get<{ sessions: OpenSession[] }>('/sessions').then(({ sessions }) => sessions),
    refetchInterval: REFRESH_MILLISECONDS,
  });
const useKeys = () =>
  useQuery({
    queryKey: ['keys'],
    queryFn: () => get<{ keys: KnownKey[] }>('/keys').then(({ keys }) => keys),
    refetchInterval: REFRESH_MILLISECONDS,
  });

export function Access() {
  const { data: sessions, error } = useSessions();
  const { data: keys } = useKeys();
  const { selected, select } = useSelection([...(sessions ?? []).map(sessionKey), ...(keys ?? []).map(keyKey)]);
  const close = (): void => select(null);
  const session = sessions?.find((one) => sessionKey(one) === selected);
  const key = keys?.find((one) => keyKey(one) === selected);
  return (
    <>
      <Page
        title="Access"
        says={
          sessions &&
          keys &&
          `${sessions.length} signed in · ${keys.length === 1 ? 'one key' : `${keys.length} keys`} of programs`
        }
        tools={
          <>
            <Button onClick={() => select(READER)}>Password for SQL</Button>
            <Button main onClick={() => select(NEW)}>
              Make a key
            </Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        {!error && (!sessions || !keys) && <Skeleton rows={6} />}
        {sessions && keys && (
          <div className="min-h-0 flex-1 overflow-y-auto pb-6" tabIndex={-1}>
            <h2 className="mt-1 font-semibold" id="signed-in">
              Signed in
            </h2>
            <Head names={['Who', 'Since', 'Seen', 'From', 'With']} />
            <div role="listbox" aria-labelledby="signed-in">
              {sessions.map((one) => (
                <ListRow key={one.id} selected={sessionKey(one) === selected} onSelect={() => select(sessionKey(one))}>
                  <span className="w-40 max-[1100px]:w-28 truncate pl-[3px]">
                    {one.name} {one.own && <span className="text-ink-2">· this one</span>}
                  </span>
                  <span className="figure w-32 max-[1100px]:w-20">{showAgo(one.since)}</span>
                  <span className="figure w-32 max-[1100px]:w-20">{showAgo(one.seen)}</span>
                  <span className="figure w-36 max-[1100px]:w-24 truncate">{one.whence}</span>
                  <span className="min-w-0 flex-1 truncate text-ink-2">{one.agent}</span>
                </ListRow>
              ))}
            </div>
            <h2 className="mt-6 font-semibold" id="keys-of-programs">
              Keys of programs
            </h2>
            <Head names={['Key', 'Made', 'Used', 'Ends', 'May']} />
            {keys.length === 0 && <Empty>No program has a key. “Make a key” makes one; it is shown once.</Empty>}
            <div role="listbox" aria-labelledby="keys-of-programs">
              {keys.map((one) => (
                <ListRow key={one.id} selected={keyKey(one) === selected} onSelect={() => select(keyKey(one))}>
                  <span className="figure w-40 max-[1100px]:w-28 truncate pl-[3px]">{one.name}</span>
                  <span className="figure w-32 max-[1100px]:w-20">{showAgo(one.made)}</span>
                  <span className={`figure w-32 max-[1100px]:w-20 ${one.lastUse ? '' : 'text-ink-2'}`}>
                    {showAgo(one.lastUse)}
                  </span>
                  <span className={`figure w-36 max-[1100px]:w-24 ${endClass(one)}`}>
                    {one.ends ? endWords(one.ends) : 'never'}
                  </span>
                  <span className="min-w-0 flex-1 truncate">
                    {one.scopes.join(', ')}
                    {one.collector && <span className="text-ink-2"> · collector {one.collector}</span>}
                  </span>
                </ListRow>
              ))}
            </div>
          </div>
        )}
      </Page>
      {selected === NEW && <NewKeyLeaf onClose={close} />}
      {selected === READER && <ReaderLeaf onClose={close} />}
      {session && <SessionLeaf key={session.id} session={session} onClose={close} />}
      {key && <KeyLeaf key={key.id} known={key} onClose={close} />}
    </>
  );
}

const SOON = 14 * 86_400_000;
const endWords = (ends: string): string => (Date.parse(ends) < Date.now() ? 'has ended' : ends.slice(0, 10));
const endClass = ({ ends }: KnownKey): string =>
  ends === null ? 'text-ink-2' : Date.parse(ends) - Date.now() < SOON ? 'text-ochre' : '';

/** The widths that both lists have in common. */
const WIDTHS = [
  'w-40 max-[1100px]:w-28 pl-[3px]',
  'w-32 max-[1100px]:w-20',
  'w-32 max-[1100px]:w-20',
  'w-36 max-[1100px]:w-24',
];

function Head({ names }: { readonly names: readonly string[] }) {
  return (
    <div className="flex h-8 items-center gap-3 border-b border-ink/70 pr-3 pl-[3px] text-ink-2">
      {names.map((name, i) => (
        <span key={name} className={WIDTHS[i] ?? 'min-w-0 flex-1'}>
          {name}
        </span>
      ))}
    </div>
  );
}
