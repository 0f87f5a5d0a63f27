/** Links: what leaves from here to other sites, and what other sites bring; how each stands. */
import type { ArrivingLink, SendingLink } from '@wide-ledger/contract';
import { Suspense, lazy } from 'react';
import { useSearchParams } from 'react-router';
import { Button } from '../controls/Button.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useSelection } from '../frame/useSelection.ts';
import { ArrivingLeaf } from './ArrivingLeaf.tsx';
import { InviteLeaf } from './InviteLeaf.tsx';
import { NewLinkLeaf } from './NewLinkLeaf.tsx';
import { SendingLeaf } from './SendingLeaf.tsx';
import { SiteHealth } from './SiteHealth.tsx';
import { ARRIVING_COLOURS, SENDING_COLOURS } from './states.ts';
import { useDesk } from '../server/queries.ts';
import { useLinkStrips, useLinks } from './useLinks.ts';
import { Strip } from '../strip/Strip.tsx';

/** The library that draws it is only needed by whoever looks at it. */
const LinkMap = lazy(() => import('./LinkMap.tsx'));

const NEW = 'new';
const INVITE = 'invite';
const sendingKey = ({ id }: SendingLink): string => `sending:${id}`;
const arrivingKey = ({ id }: ArrivingLink): string => `arriving:${id}`;

const WIDTHS = ['w-32 max-[1100px]:w-24', 'w-40 max-[1100px]:w-28', 'w-32 max-[1100px]:w-24'] as const;
const RIGHT = 'w-20 text-right';
const HEALTH = 'flex w-44 min-w-0 max-[1100px]:w-32';

export function Links() {
  const { data, error } = useLinks();
  const strips = useLinkStrips();
  const { sending = [], arriving = [] } = data ?? {};
  const { selected, select } = useSelection([...sending.map(sendingKey), ...arriving.map(arrivingKey)]);
  const [search, setSearch] = useSearchParams();
  const asMap = search.get('as') === 'map';
  const { data: desk } = useDesk();
  const close = (): void => select(null);
  const leaving = sending.find((one) => sendingKey(one) === selected);
  const coming = arriving.find((one) => arrivingKey(one) === selected);
  return (
    <>
      <Page
        title="Links"
        says={data && `${sending.length} leaving · ${arriving.length} arriving`}
        tools={
          <>
            <Button
              aria-pressed={asMap}
              onClick={() =>
                setSearch((current) => {
                  if (asMap) current.delete('as');
                  else current.set('as', 'map');
                  return current;
                })
              }
            >
              Map
            </Button>
            <Button onClick={() => select(INVITE)}>Invite a site</Button>
            <Button main onClick={() => select(NEW)}>
              Make a link
            </Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        {!data && !error && <Skeleton rows={4} />}
        {data && asMap && (
          <Suspense fallback={<Skeleton rows={4} />}>
            <LinkMap
              site={desk?.site ?? ''}
              sending={sending}
              arriving={arriving}
              selected={selected}
              onSelect={select}
            />
          </Suspense>
        )}
        {data && !asMap && (
          <div className="min-h-0 flex-1 overflow-y-auto pb-6" tabIndex={-1}>
            <h2 className="mt-1 font-semibold" id="leaving">
              Leaving from here
            </h2>
            <Head names={['Link', 'Far end', 'State']} figures={['Tags', 'Values', 'Waiting']} last="In this window" />
            {sending.length === 0 && (
              <Empty>
                Nothing is carried from here. An administrator of the other site invites this one there, on its Links
                screen; “Make a link” takes the address and the code.
              </Empty>
            )}
            <div role="listbox" aria-labelledby="leaving">
              {sending.map((one) => (
                <ListRow key={one.id} selected={sendingKey(one) === selected} onSelect={() => select(sendingKey(one))}>
                  <span className={`${WIDTHS[0]} truncate pl-[3px]`}>{one.name}</span>
                  <span className={`${WIDTHS[1]} truncate`}>{one.farName ?? one.url}</span>
                  <span className={`${WIDTHS[2]} truncate ${SENDING_COLOURS[one.state]}`}>{one.state}</span>
                  <span className={`figure ${RIGHT}`}>{showNumber(one.tags)}</span>
                  <span className={`figure ${RIGHT}`}>{showNumber(one.samples)}</span>
                  <span className={`figure ${RIGHT}`}>{showNumber(one.waiting)}</span>
                  <span className="min-w-0 flex-1 pr-1" title={one.trouble ?? ''}>
                    <Strip row={strips.leaving.get(one.id)} label={one.name} />
                  </span>
                </ListRow>
              ))}
            </div>
            <h2 className="mt-6 font-semibold" id="arriving">
              Arriving here
            </h2>
            <Head
              names={['Link', 'From', 'State']}
              figures={['Tags', 'Values', 'Set aside']}
              health
              last="In this window"
            />
            {arriving.length === 0 && (
              <Empty>No other site brings anything. “Invite a site” makes a code for it, which is shown once.</Empty>
            )}
            <div role="listbox" aria-labelledby="arriving">
              {arriving.map((one) => (
                <ListRow
                  key={one.id}
                  selected={arrivingKey(one) === selected}
                  onSelect={() => select(arrivingKey(one))}
                >
                  <span className={`${WIDTHS[0]} truncate pl-[3px]`}>{one.name}</span>
                  <span className={`${WIDTHS[1]} truncate`}>{one.site?.name ?? '—'}</span>
                  <span className={`${WIDTHS[2]} truncate ${ARRIVING_COLOURS[one.state]}`}>{one.state}</span>
                  <span className={`figure ${RIGHT}`}>{showNumber(one.tags)}</span>
                  <span className={`figure ${RIGHT}`}>{showNumber(one.samples)}</span>
                  <span className={`figure ${RIGHT}`}>{showNumber(one.setAside)}</span>
                  <span className={HEALTH}>
                    <SiteHealth link={one} />
                  </span>
                  <span className="min-w-0 flex-1 pr-1">
                    {one.site && <Strip row={strips.arriving.get(one.id)} label={one.name} />}
                  </span>
                </ListRow>
              ))}
            </div>
          </div>
        )}
      </Page>
      {selected === NEW && <NewLinkLeaf onClose={close} onMade={({ id }) => select(`sending:${id}`)} />}
      {selected === INVITE && <InviteLeaf onClose={close} />}
      {leaving && <SendingLeaf key={leaving.id} link={leaving} onClose={close} />}
      {coming && <ArrivingLeaf key={coming.id} link={coming} onClose={close} />}
    </>
  );
}

interface HeadProps {
  readonly names: readonly [string, string, string];
  readonly figures: readonly string[];
  /** Whether a column says how the site is. */
  readonly health?: boolean;
  readonly last: string;
}

function Head({ names, figures, health = false, last }: HeadProps) {
  return (
    <div className="flex h-7 items-center gap-3 border-b border-l-[3px] border-b-ink/70 border-l-transparent text-ink-2">
      {names.map((name, i) => (
        <span key={name} className={`${WIDTHS[i]} ${i === 0 ? 'pl-[3px]' : ''}`}>
          {name}
        </span>
      ))}
      {figures.map((name) => (
        <span key={name} className={RIGHT}>
          {name}
        </span>
      ))}
      {health && <span className={HEALTH}>How the site is</span>}
      <span className="min-w-0 flex-1 truncate">{last}</span>
    </div>
  );
}
