import { structuredPatch } from 'diff';

/** What of a page is compared, as a stand-in host or a real one shows it. */
export interface ComparedPage {
  readonly role: string;
  readonly status?: number | undefined;
  readonly template?: string | undefined;
  readonly loaded: readonly string[];
  readonly text: string;
  readonly findings: readonly unknown[];
}

/** How a page differs between two themes on one site. */
export interface PageDifference {
  readonly role: string;
  /** What the server answered with the other theme, where that was something else. */
  readonly statusBefore: number | undefined;
  /** The template that made it with the other theme, where that was another one. */
  readonly templateBefore: string | undefined;
  /** Files that the page asks for with this theme only, and with the other one only. */
  readonly gained: readonly string[];
  readonly lost: readonly string[];
  /** How many lines of the page came, and went. */
  readonly added: number;
  readonly removed: number;
  /** The lines, as a unified diff without its head. */
  readonly diff: readonly string[];
  /** How many problems the page had with the other theme. */
  readonly problemsBefore: number;
}

/** The place of a theme in the host, which is no difference: every address of its files holds it. */
type Home = string;

/** A page of one theme beside the same page of another one. */
export function comparePages(now: readonly [ComparedPage, Home], before: readonly [ComparedPage, Home]): PageDifference {
  const [page, home] = now;
  const [other, otherHome] = before;
  const loaded = page.loaded.map((path) => path.replace(home, '{home}'));
  const otherLoaded = other.loaded.map((path) => path.replace(otherHome, '{home}'));
  const texts = [other.text.replaceAll(otherHome, '{home}'), page.text.replaceAll(home, '{home}')] as const;
  const diff = differenceOf(...texts);
  return {
    role: page.role,
    statusBefore: page.status === other.status ? undefined : other.status,
    templateBefore: page.template === other.template ? undefined : other.template,
    gained: loaded.filter((path) => !otherLoaded.includes(path)),
    lost: otherLoaded.filter((path) => !loaded.includes(path)),
    added: diff.filter((line) => line.startsWith('+')).length,
    removed: diff.filter((line) => line.startsWith('-')).length,
    diff,
    problemsBefore: other.findings.length,
  };
}

/** More differences than this, and two pages are shown as having nothing in common: finding them takes their square in time. */
const MOST_DIFFERENCES = 2_000;

function differenceOf(before: string, now: string): string[] {
  const patch = structuredPatch('', '', before, now, '', '', { context: 1, maxEditLength: MOST_DIFFERENCES });
  if (patch !== undefined) return patch.hunks.flatMap(({ lines }) => ['@@', ...lines]);
  return ['@@', ...before.split('\n').map((line) => `-${line}`), ...now.split('\n').map((line) => `+${line}`)];
}

/** Whether nothing differs. */
export function isSamePage({ statusBefore, templateBefore, gained, lost, added, removed }: PageDifference): boolean {
  return statusBefore === undefined && templateBefore === undefined && gained.length + lost.length + added + removed === 0;
}
