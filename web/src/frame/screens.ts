/** The screens, in the order of the work. */
import {
  ChartSpline,
  Database,
  FileInput,
  FlaskConical,
  KeyRound,
  NotebookPen,
  LayoutPanelTop,
  PlugZap,
  SquareStack,
  Tags,
  Waypoints,
  type LucideIcon,
} from 'lucide-react';

export interface Screen {
  readonly path: string;
  readonly name: string;
  readonly icon: LucideIcon;
}

/** In groups: what is watched, what comes in, what came, where it lies, who did what, and trying out. */
export const SCREEN_GROUPS: readonly (readonly Screen[])[] = [
  [{ path: '/', name: 'Desk', icon: LayoutPanelTop }],
  [
    { path: '/sources', name: 'Sources', icon: PlugZap },
    { path: '/tags', name: 'Tags', icon: Tags },
    { path: '/files', name: 'Files', icon: FileInput },
  ],
  [
    { path: '/coverage', name: 'Coverage', icon: SquareStack },
    { path: '/traces', name: 'Traces', icon: ChartSpline },
  ],
  [
    { path: '/stores', name: 'Stores', icon: Database },
    { path: '/links', name: 'Links', icon: Waypoints },
  ],
  [
    { path: '/logbook', name: 'Logbook', icon: NotebookPen },
    { path: '/access', name: 'Access', icon: KeyRound },
  ],
  [{ path: '/bench', name: 'Bench', icon: FlaskConical }],
];
export const SCREENS: readonly Screen[] = SCREEN_GROUPS.flat();

/** Screens that are reached from others, or by their name. */
export const FURTHER: readonly Pick<Screen, 'path' | 'name'>[] = [
  { path: '/completeness', name: 'Completeness' },
  { path: '/doubts', name: 'Doubts' },
  { path: '/draft', name: 'Draft' },
  { path: '/versions', name: 'Versions' },
  { path: '/sheet', name: 'Tag sheet' },
  { path: '/paces', name: 'Paces' },
  { path: '/places', name: 'Places' },
  { path: '/rehearsal', name: 'Rehearsal' },
  { path: '/keeping', name: 'Keeping' },
];

/** Screens that belong to one of the rail, which is marked while they are open. */
const WITHIN: Readonly<Record<string, string>> = {
  '/take': '/sources',
  '/registers': '/sources',
  '/rehearsal': '/sources',
  '/sheet': '/tags',
  '/keeping': '/tags',
  '/paces': '/tags',
  '/places': '/tags',
  '/place': '/tags',
  '/completeness': '/coverage',
  '/doubts': '/coverage',
  '/versions': '/logbook',
};

/** The screen of the rail that a path belongs to; the path itself where it belongs to none. */
export const railPathOf = (path: string): string => WITHIN[path] ?? path;
