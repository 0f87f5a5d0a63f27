/** The screens, in the order of the work. */
import {
  ChartSpline,
  Database,
  FileInput,
  FlaskConical,
  LayoutPanelTop,
  PlugZap,
  SquareStack,
  Tags,
  type LucideIcon,
} from 'lucide-react';

export interface Screen {
  readonly path: string;
  readonly name: string;
  readonly icon: LucideIcon;
}

export const SCREENS: readonly Screen[] = [
  { path: '/', name: 'Desk', icon: LayoutPanelTop },
  { path: '/sources', name: 'Sources', icon: PlugZap },
  { path: '/tags', name: 'Tags', icon: Tags },
  { path: '/coverage', name: 'Coverage', icon: SquareStack },
  { path: '/traces', name: 'Traces', icon: ChartSpline },
  { path: '/stores', name: 'Stores', icon: Database },
  { path: '/files', name: 'Files', icon: FileInput },
  { path: '/bench', name: 'Bench', icon: FlaskConical },
];
