import { Link, useLocation } from 'react-router';
import { useDesk, useSession } from '../server/queries.ts';
import { SCREEN_GROUPS, railPathOf, type Screen } from './screens.ts';
import { searchWith } from './useGo.ts';

/** The narrow rail on the left: the screens in the order of the work, and below them who is signed in. */
export function Rail() {
  const { data: desk } = useDesk();
  const { data: session } = useSession();
  const { search } = useLocation();
  const failures = desk?.concerns.filter((concern) => concern.weight === 'failure').length ?? 0;
  return (
    <div className="flex w-[76px] shrink-0 flex-col border-r border-rule pt-1">
      <nav aria-label="Screens">
        {SCREEN_GROUPS.map((group, i) => (
          <div key={group[0]!.path} className={i === 0 ? '' : 'border-t border-rule'}>
            {group.map((screen) => (
              <RailLink key={screen.path} screen={screen} failures={screen.path === '/' ? failures : 0} />
            ))}
          </div>
        ))}
      </nav>
      {session && (
        <Link
          to={{ pathname: '/access', search: searchWith(search) }}
          title={`Signed in as ${session.name}. Sessions and signing out are in Access.`}
          className="mt-auto truncate border-t border-rule px-1 py-2 text-center text-ink-2 no-underline hover:text-ink"
          style={{ fontSize: 12 }}
        >
          {session.name}
        </Link>
      )}
    </div>
  );
}

function RailLink({
  screen: { path, name, icon: Icon },
  failures,
}: {
  readonly screen: Screen;
  readonly failures: number;
}) {
  const { search, pathname } = useLocation();
  const isHere = railPathOf(pathname) === path;
  return (
    <Link
      to={{ pathname: path, search: searchWith(search) }}
      aria-current={pathname === path ? 'page' : isHere ? 'true' : undefined}
      className={`relative flex h-[50px] flex-col items-center justify-center gap-1 border-l-[3px] text-[12px] no-underline ${
        isHere ? 'border-verdigris font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'
      }`}
    >
      <Icon size={17} strokeWidth={1.6} aria-hidden />
      {name}
      {failures > 0 && <span className="absolute top-1.5 right-3 font-semibold text-madder">{failures}</span>}
    </Link>
  );
}
