/** The figures wing: what is read out. */
import { Router } from 'express';
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import type { Field } from '../field/index.ts';
import type { Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { healthRoutes } from './desk/health.ts';
import { deskRoutes } from './desk/routes.ts';

export interface Figures {
  readonly routes: Router;
}

/** @param version of the programs. */
export function openFigures(
  ground: Ground,
  { guard }: People,
  { catalogue }: Configuration,
  archive: Archive,
  { collectors }: Field,
  version: string,
): Figures {
  const routes = Router().use(
    healthRoutes(ground.database, archive.posting, version),
    deskRoutes({ ground, guard, catalogue, archive, collectors }),
  );
  return { routes };
}
