import { dirname } from 'node:path';
import { findConfiguration } from '../core/configuration/configuration.ts';
import type { Site } from '../core/configuration/site-schema.ts';
import { UsageError } from '../core/errors.ts';
import { nearest } from '../core/text/nearest.ts';
import type { Context } from './command.ts';

/**
 * A site by its name in `pionero.yaml`.
 * @param themeFolder a theme’s own configuration never names a site: its commands would be run
 * @throws UsageError when there is none of that name
 */
export function siteNamed(context: Context, name: string, themeFolder?: string): Site {
  const { layers } = findConfiguration(context.io.folder);
  const trusted = layers.filter(({ file }) => themeFolder === undefined || !`${dirname(file)}/`.startsWith(`${themeFolder}/`));
  const known = [...new Set(trusted.flatMap(({ sites }) => Object.keys(sites)))];
  const site = trusted.find(({ sites }) => Object.hasOwn(sites, name))?.sites[name];
  if (site !== undefined) return site;
  const near = nearest(name, known);
  throw new UsageError({
    what: `there is no site “${name}” in a pionero.yaml above the theme`,
    hint:
      near !== undefined
        ? `did you mean “${near}”?`
        : known.length > 0
          ? `known: ${known.join(', ')}`
          : 'add it: sites: { NAME: { folder: PATH } }',
  });
}

/** The names of all sites that are known here. */
export function siteNames(context: Context): string[] {
  return Object.keys(findConfiguration(context.io.folder).sites);
}
