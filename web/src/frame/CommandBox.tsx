/** Ctrl or ⌘ and K: every screen, tag, source and action by its name. */
import { Command } from 'cmdk';
import { useEffect, useState } from 'react';
import { remove } from '../server/calls.ts';
import { useSources, useTags } from '../server/queries.ts';
import { toggleLive, toggleZone } from '../window/windowStore.ts';
import { FURTHER, SCREENS } from './screens.ts';
import { toggleTheme } from './theme.ts';
import { useGo } from './useGo.ts';

const SHORTCUTS: readonly [string, string][] = [
  ['Ctrl K', 'this box'],
  ['/', 'filter the list'],
  ['↑ ↓', 'move through the list'],
  ['Enter', 'open the leaf'],
  ['Space', 'mark the row: several are changed together'],
  ['Escape', 'close the leaf'],
  ['?', 'these shortcuts'],
  ['L', 'live or held'],
  ['T', 'light or dark'],
];

export function CommandBox() {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState('');
  const go = useGo();
  const tags = useTags(words);
  const { data: sources } = useSources();

  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest('input, select, textarea, [data-own-keys]');
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        setOpen((now) => !now);
      } else if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      else if (event.key === '?') {
        // Else it would be the first letter in the box.
        event.preventDefault();
        setOpen(true);
      } else if (event.key.toLowerCase() === 'l') toggleLive();
      else if (event.key.toLowerCase() === 't') toggleTheme();
      else if (event.key === '/') {
        const filter = document.querySelector<HTMLInputElement>('[data-filter]');
        if (filter) {
          event.preventDefault();
          filter.focus();
        }
      }
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);

  const run = (action: () => void) => () => {
    setOpen(false);
    setWords('');
    action();
  };
  const item = 'flex cursor-pointer items-baseline gap-3 px-3 py-1.5 data-[selected=true]:bg-wash';
  const group = '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-ink-2';
  return (
    <Command.Dialog
      open={open}
      onOpenChange={setOpen}
      label="Command box"
      loop
      contentClassName="fixed top-24 left-1/2 z-50 w-[560px] -translate-x-1/2 rounded-paper border border-edge bg-raised shadow-lg"
      overlayClassName="fixed inset-0 z-40 bg-ink/10"
    >
      <Command.Input
        value={words}
        onValueChange={setWords}
        placeholder="A screen, a tag, a source, an action …"
        className="h-11 w-full border-b border-rule bg-transparent px-3 outline-none"
      />
      <Command.List className="max-h-96 overflow-y-auto pb-2">
        <Command.Empty className="px-3 py-3 text-ink-2">Nothing of that name.</Command.Empty>
        <Command.Group heading="Screens" className={group}>
          {[...SCREENS, ...FURTHER].map(({ path, name }) => (
            <Command.Item key={path} value={`screen ${name}`} className={item} onSelect={run(() => go(path))}>
              {name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Actions" className={group}>
          <Command.Item value="action live held" className={item} onSelect={run(toggleLive)}>
            Live or held
          </Command.Item>
          <Command.Item value="action theme light dark" className={item} onSelect={run(toggleTheme)}>
            Light or dark
          </Command.Item>
          <Command.Item value="action zone utc site" className={item} onSelect={run(toggleZone)}>
            UTC or the site's time
          </Command.Item>
          <Command.Item
            value="action sign out leave"
            className={item}
            onSelect={run(() => void remove('/session').then(() => location.assign('/')))}
          >
            Sign out
          </Command.Item>
        </Command.Group>
        <Command.Group heading="Tags" className={group}>
          {tags.data?.pages[0]?.tags.slice(0, 12).map((tag) => (
            <Command.Item
              key={tag.id}
              value={`tag ${tag.name} ${tag.description} ${tag.place}`}
              className={item}
              onSelect={run(() => go('/tags', { row: tag.name }))}
            >
              <span className="figure">{tag.name}</span> <span className="truncate text-ink-2">{tag.description}</span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Sources" className={group}>
          {sources?.map((source) => (
            <Command.Item
              key={source.id}
              value={`source ${source.name}`}
              className={item}
              onSelect={run(() => go('/sources', { row: String(source.id) }))}
            >
              {source.name}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
      <div className="flex flex-wrap gap-x-4 gap-y-1 border-t border-rule px-3 py-2 text-ink-2">
        {SHORTCUTS.map(([keys, meaning]) => (
          <span key={keys}>
            <kbd className="figure text-ink">{keys}</kbd> {meaning}
          </span>
        ))}
      </div>
    </Command.Dialog>
  );
}
