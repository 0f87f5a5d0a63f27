import { NavLink, useLocation } from 'react-router';
import { useDesk } from '../server/queries.ts';
import { SCREENS } from './screens.ts';
import { searchWith } from './useGo.ts';

/** The narrow rail on the left: the screens in the order of the work. */
export function Rail() {
  const { search } = useLocation();
  const { data: desk } = useDesk();
  const failures = desk?.concerns.filter((concern) => concern.weight === 'failure').length ?? 0;
  return (
    <nav aria-label="Screens" className="flex w-[76px] shrink-0 flex-col border-r border-rule pt-2">
      {SCREENS.map(({ path, name, icon: Icon }) => (
        <NavLink
          key={path}
          to={{ pathname: path, search: searchWith(search) }}
          end={path === '/'}
          className={({ isActive }) =>
            `relative flex h-[52px] flex-col items-center justify-center gap-1 border-l-[3px] text-[12px] no-underline ${
              isActive ? 'border-verdigris font-semibold text-ink' : 'border-transparent text-ink-2 hover:text-ink'
            }`
          }
        >
          <Icon size={17} strokeWidth={1.6} aria-hidden />
          {name}
          {path === '/' && failures > 0 && (
            <span className="absolute top-1.5 right-3 font-semibold text-madder">{failures}</span>
          )}
        </NavLink>
      ))}
    </nav>
  );
}
