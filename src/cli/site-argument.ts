import { dirname, join } from 'node:path';
import { kindOnDisk } from '../core/files/disk.ts';
import { findConfiguration, trustedLayers, type ConfigurationLayer } from '../core/configuration/configuration.ts';
import type { Site } from '../core/configuration/site-schema.ts';
import { UsageError } from '../core/errors.ts';
import { nearest } from '../core/text/nearest.ts';
import type { Context } from './command.ts';
import { didYouMean } from '../core/text/sentence.ts';

/**
 * A site by its name in `pionero.yaml`.
 * @param themeFolder a theme’s own configuration never names a site: its commands would be run
 * @throws UsageError when there is none of that name
 */
export function siteNamed(context: Context, name: string, themeFolder?: string): Site {
  const trusted = trustedLayers(context.io.folder, themeFolder);
  const known = [...new Set(trusted.flatMap(({ sites }) => Object.keys(sites)))];
  const site = trusted.find(hasSite(name))?.sites[name];
  if (site !== undefined) return site;
  // Its commands are run: whoever made the folder that the theme lies in has no say in that, until you work there yourself.
  const elsewhere = themeFolder === undefined ? undefined : trustedLayers(dirname(themeFolder), themeFolder).find(hasSite(name));
  const near = nearest(name, known);
  throw new UsageError({
    what: `there is no site “${name}” in a pionero.yaml in the current folder or above it`,
    why: 'a pionero.yaml in the theme itself does not count',
    hint:
      elsewhere === undefined
        ? didYouMean(near, known.length > 0 ? `known: ${known.join(', ')}` : 'add it: sites: { NAME: { folder: PATH } }')
        : `${context.shown(elsewhere.file)} names it: run this in ${context.shown(dirname(elsewhere.file))}`,
  });
}

function hasSite(name: string): (layer: ConfigurationLayer) => boolean {
  return ({ sites }) => Object.hasOwn(sites, name);
}

/** What of a site counts for who puts a theme into it. */
export type SitePlace = Pick<Site, 'folder' | 'home' | 'own'>;

/** The folders of a site in which parents can be: where it keeps themes, and where the host’s own ones are. */
export function shelvesIn(context: Context, { folder, home, own }: SitePlace): string[] {
  const homes = home === undefined ? context.platforms().map(({ contract }) => contract.home) : [home];
  const shelves = homes.map((each) => join(folder, fixedPart(each)));
  return [...new Set([...shelves, ...own.map((each) => join(folder, each))])].filter(
    (each) => each !== folder && kindOnDisk(each) === 'folder',
  );
}

/** What of a place is the same for all themes: `themes` of `themes/{id}`. */
function fixedPart(home: string): string {
  const parts = home.split('/');
  return parts
    .slice(
      0,
      parts.findIndex((part) => part.includes('{')),
    )
    .join('/');
}

/** The names of all sites that are known here. */
export function siteNames(context: Context): string[] {
  return Object.keys(findConfiguration(context.io.folder).sites);
}
