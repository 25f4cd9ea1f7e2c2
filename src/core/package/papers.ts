import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { withFiles } from '../files/changed-tree.ts';
import { licenseText } from '../licenses/license-texts.ts';
import { licenseIds } from '../licenses/license-ids.ts';
import { fillShape } from '../names/shape.ts';
import { changelogOf } from '../contents/changelog.ts';
import { licenseFiles } from '../contents/third-party.ts';
import type { Theme } from '../theme/theme.ts';

/** A paper that a theme lacks, and why it could not be written. */
export interface Unwritten {
  readonly paper: 'license';
  /** What the theme says its license is; undefined when it says none. */
  readonly license: string | undefined;
}

/** The papers that a theme lacks. */
export interface MissingPapers {
  readonly plan: ChangePlan;
  /** Paths from the theme’s root. */
  readonly files: readonly string[];
  readonly unwritten: readonly Unwritten[];
}

const READ_ME = /^read-?me(?:\.\w+)?$/i;

/**
 * Plans the read-me, the license and the changelog that a theme lacks, made of what it says of itself.
 * @param year of the copyright
 */
export function planPapers(theme: Theme, folder: string, year: number): MissingPapers {
  const files = new Map<string, Buffer>();
  const unwritten: Unwritten[] = [];
  const has = (pattern: RegExp): boolean => theme.tree.entries.some(({ kind, path }) => kind !== 'folder' && pattern.test(path));
  if (!has(READ_ME)) files.set('README.md', Buffer.from(readMe(theme)));
  if (licenseFiles(theme.tree).length === 0) {
    const license = theme.text('license');
    const text = filledLicense(theme, year);
    if (text === undefined) unwritten.push({ paper: 'license', license });
    else files.set('LICENSE.txt', Buffer.from(text));
  }
  const version = theme.text('version');
  if (changelogOf(theme) === undefined && version !== undefined)
    files.set('CHANGELOG.md', Buffer.from(`# Changes\n\n## ${version}\n\n- First version.\n`));
  const paths = [...files.keys()];
  const after = withFiles(theme.tree, files);
  return { plan: planBetween(`papers of ${theme.names.id}`, folder, theme.tree, after, new Set(paths)), files: paths, unwritten };
}

function readMe(theme: Theme): string {
  const { contract } = theme.platform;
  const said = (fact: string): string | undefined => theme.text(fact);
  const author = said('author');
  const license = said('license');
  return [
    `# ${theme.names.title ?? theme.names.id}`,
    '',
    said('summary') ?? `A theme for ${contract.title}.`,
    '',
    ...(contract['next-steps'].install.length === 0 ? [] : ['## To install it', '']),
    ...contract['next-steps'].install.map((step, i) => `${i + 1}. ${fillShape(step, theme.names)}`),
    ...(contract['next-steps'].install.length === 0 ? [] : ['']),
    ...(license === undefined ? [] : ['## License', '', `${license}${author === undefined ? '' : `, ${author}`}`, '']),
  ].join('\n');
}

/** These are about the text of the license itself: nobody puts a name of his own there. */
const VERBATIM = /permitted to copy and distribute\s+verbatim|this license is copyright/i;
const YEAR = /<year>|\[y(?:ear|yyy)\]|\bYEAR\b/g;
const HOLDER = /<(?:copyright holders?|owner)>|\[(?:copyright holders|name of copyright (?:holder|owner))\]|\bAUTHOR EMAIL\b/gi;

/**
 * The text of the license that a theme names, with its author and the year; undefined when that is none, several or not known, and when
 * the text at hand names a holder of its own.
 */
function filledLicense(theme: Theme, year: number): string | undefined {
  const license = theme.text('license') ?? '';
  const [id, ...others] = licenseIds(license);
  const text = id === undefined || others.length > 0 ? undefined : licenseText(id);
  if (text === undefined) return undefined;
  const ended = text.replace(/\n*$/, '\n');
  if (VERBATIM.test(text)) return ended;
  const holder = theme.text('author') ?? theme.names.title ?? theme.names.id;
  const filled = ended.replaceAll(new RegExp(YEAR, 'gi'), () => String(year)).replaceAll(HOLDER, () => holder);
  const notices = filled.match(/^.*\bcopyright (?:\(c\)|[<[\d]).*$/gim) ?? [];
  return notices.every((notice) => notice.includes(holder)) ? filled : undefined;
}
