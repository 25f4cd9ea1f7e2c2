import { basename } from 'node:path';
import { applyPlan, type ApplyOptions } from '../core/changes/apply.ts';
import { type Operation, copyOperations } from '../core/changes/plan.ts';
import { UsageError } from '../core/errors.ts';
import { DiskTree } from '../core/files/disk-tree.ts';
import type { StandInHost } from '../core/rehearsal/host.ts';
import { pageName, type Page } from '../core/rehearsal/pages.ts';
import { comparePages, type ComparedPage, type PageDifference } from '../core/sites/compare-pages.ts';
import type { Shelves } from '../core/theme/shelf.ts';
import type { Theme } from '../core/theme/theme.ts';
import type { Rehearsal, RehearsalRequest } from '../core/rehearsal/rehearse.ts';
import { rehearseKept, type KeptRehearsal } from '../core/rehearsal/kept.ts';
import { type Other } from './against.ts';
import { contactSheet, type SheetPage } from './output/contact-sheet.ts';

/** Another theme in a stand-in host of its own. */
export async function rehearseOther({ chain }: Other, shelves: Shelves, request: RehearsalRequest): Promise<KeptRehearsal> {
  const [theme] = chain.themes;
  if (theme === undefined) throw new UsageError({ what: 'there is nothing to compare with' });
  return rehearseKept({ ...request, platform: theme.platform, tree: theme.tree, names: theme.names, shelves });
}

export function differencesOf(now: Rehearsal, before: Rehearsal): PageDifference[] {
  const asCompared = ({ role, state, template, from, html, problem }: Page): ComparedPage => ({
    role: pageName({ role, state }),
    template: template === undefined || from === undefined ? undefined : `${from}: ${template}`,
    loaded: [],
    text: html,
    findings: problem === undefined ? [] : [problem],
  });
  const beforehand = [...before.pages, ...before.states];
  return [...now.pages, ...now.states].flatMap((page) => {
    const other = beforehand.find((each) => pageName(each) === pageName(page));
    return other === undefined ? [] : [comparePages([asCompared(page), now.homes], [asCompared(other), before.homes])];
  });
}

/** The name of the sheet of all pages: a page of the theme may be called index. */
export function sheetName(pages: readonly Page[]): string {
  return pages.some(({ role }) => role === 'index') ? 'all-pages.html' : 'index.html';
}

interface Kept {
  readonly pages: readonly Page[];
  readonly out: string;
  readonly theme: Theme;
  readonly before: KeptRehearsal | undefined;
  /** The name of the other theme. */
  readonly called: string | undefined;
}

/** Keeps the host's folder with a page for each role and a sheet of them all, as a new folder. */
export async function keepSite(applying: ApplyOptions, host: StandInHost, { pages, out, theme, before, called }: Kept): Promise<void> {
  const file = (path: string, text: string): Operation => {
    const content = Buffer.from(text);
    return { op: 'create', path, content: { bytes: content }, size: content.length, mode: 0o644 };
  };
  const made = pages.filter(({ isRendered }) => isRendered);
  const old = (before === undefined ? [] : [...before.pages, ...before.states]).filter(({ isRendered }) => isRendered);
  const sheet = made.map((page): SheetPage => {
    const name = pageName(page);
    const other = old.find((each) => pageName(each) === name);
    return {
      role: name,
      file: `${name}.html`,
      notes: notesOf(page),
      before: other === undefined ? undefined : { file: `before/${name}.html`, notes: notesOf(other) },
    };
  });
  const title = `${theme.names.title ?? theme.names.id}, page by page`;
  const operations = [
    ...copyOperations(new DiskTree(host.folder)),
    ...made.map((page) => file(`${pageName(page)}.html`, page.html)),
    ...(made.length === 0 ? [] : [file(sheetName(pages), contactSheet(title, sheet, called))]),
    ...(before === undefined ? [] : copyOperations(before.files).map((operation) => ({ ...operation, path: `before/${operation.path}` }))),
    ...old.map((page) => file(`before/${pageName(page)}.html`, page.html)),
  ];
  await applyPlan({ title: `rehearse --out ${basename(out)}`, root: out, isNewRoot: true, operations }, applying);
}

/** The sheet's text on a page. */
function notesOf({ template, from, regions, problem }: Page): string[] {
  const empty = regions.filter(({ isFilled }) => !isFilled).map(({ name }) => name);
  return [
    ...(template === undefined ? [] : [`${template} of ${from ?? ''}`]),
    ...(empty.length === 0 ? [] : [`empty: ${empty.join(', ')}`]),
    ...(problem === undefined ? [] : [problem]),
  ];
}
