import { planBetween } from '../changes/plan-between.ts';
import type { ChangePlan } from '../changes/plan.ts';
import { withFiles } from '../files/changed-tree.ts';
import { fillShape } from '../names/shape.ts';
import { changelogOf } from '../contents/changelog.ts';
import { filledLicense } from '../contents/license-file.ts';
import { licenseFiles } from '../contents/third-party.ts';
import { ARCHIVE_FORMATS } from '../archives/archive-format.ts';
import { packageForm } from './package-form.ts';
import type { Theme } from '../theme/theme.ts';

/** A paper that a theme lacks, and why it could not be written. */
export interface Unwritten {
  readonly paper: 'license';
  /** The license that the theme states; undefined when it states none. */
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
  const steps = installSteps(theme);
  return [
    `# ${theme.names.title ?? theme.names.id}`,
    '',
    said('summary') ?? `A theme for ${contract.title}.`,
    '',
    ...['## What it needs', '', ...needsOf(theme).map((each) => `- ${each}`), ''],
    ...(steps.length === 0 ? [] : ['## To install it', '', ...steps.map((step, i) => `${i + 1}. ${step}`), '']),
    ...(license === undefined ? [] : ['## License', '', `${license}${author === undefined ? '' : `, ${author}`}`, '']),
  ].join('\n');
}

/** The host with the releases that it is for, and the themes that it builds on. */
function needsOf(theme: Theme): string[] {
  const { contract } = theme.platform;
  const { inheritance } = contract;
  const madeFor = inheritance['made-for'] === undefined ? undefined : theme.text(inheritance['made-for']);
  const parents = theme.parents.map((id) => {
    const version = madeFor === undefined || theme.parents.length > 1 ? '' : ` ${madeFor}`;
    return `the theme ${id}${version}, which it builds on${inheritance['built-in'].includes(id) ? ' and the host brings' : ''}`;
  });
  return [`${contract.title} ${theme.text('hosts') ?? ''}`.trim(), ...parents];
}

/** How the package is brought to a host, and what to do there then. */
function installSteps(theme: Theme): string[] {
  const { 'next-steps': next, package: made } = theme.platform.contract;
  const [name] = made.formats;
  const format = ARCHIVE_FORMATS.find((each) => each.name === name);
  const archive = format === undefined ? theme.names.id : packageForm(theme, [], format).name;
  const upload = ((name === undefined ? undefined : made.forms[name]?.next) ?? next.pack).map((step) =>
    step.replaceAll('{archive}', archive),
  );
  const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}_$]{3,}/gu) ?? [];
  const said = new Set(upload.flatMap(wordsOf));
  // What comes after a package is unpacked may say all of it.
  const after = next.install.filter((step) => !wordsOf(step).every((word) => said.has(word)));
  return [...upload, ...after].map((step) => fillShape(step, theme.names));
}
