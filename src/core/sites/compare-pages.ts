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
  /** The server's answer with the other theme, where that was something else. */
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

/** The places of a theme and of what it builds on, from the host’s root, its own first. Addresses that hold them count as the same. */
type Homes = readonly string[];

/** A page of one theme beside the same page of another one. */
export function comparePages(now: readonly [ComparedPage, Homes], before: readonly [ComparedPage, Homes]): PageDifference {
  const [page, homes] = now;
  const [other, otherHomes] = before;
  const texts = [withoutHomes(other.text, otherHomes), withoutHomes(page.text, homes)] as const;
  const diff = differenceOf(...texts);
  return {
    role: page.role,
    statusBefore: page.status === other.status ? undefined : other.status,
    templateBefore: page.template === other.template ? undefined : other.template,
    gained: loadedBeyond(now, before),
    lost: loadedBeyond(before, now),
    added: diff.filter((line) => line.startsWith('+')).length,
    removed: diff.filter((line) => line.startsWith('-')).length,
    diff,
    problemsBefore: other.findings.length,
  };
}

/**
 * The files that one page loads and the other does not, wherever they lie in a theme or its parents: of a sheet that both a child and its parent have,
 * a child’s page that loads both loads one more.
 */
function loadedBeyond([page, homes]: readonly [ComparedPage, Homes], [other, otherHomes]: readonly [ComparedPage, Homes]): string[] {
  const left = other.loaded.map((path) => withoutHomes(path, otherHomes));
  const own = homes[0] ?? '';
  const isOwn = (path: string): number => Number(own !== '' && path.includes(own));
  const beyond = new Set(
    page.loaded
      .toSorted((a, b) => isOwn(a) - isOwn(b))
      .filter((path) => {
        const at = left.indexOf(withoutHomes(path, homes));
        if (at >= 0) left.splice(at, 1);
        return at < 0;
      }),
  );
  return page.loaded.filter((path) => beyond.has(path)).map((path) => (own === '' ? path : path.replace(own, '{home}')));
}

function withoutHomes(text: string, homes: Homes): string {
  // One can begin with another: themes/albar, themes/albar-noche.
  const sorted = homes.filter((home) => home !== '').toSorted((a, b) => b.length - a.length);
  return sorted.reduce((shown, home) => shown.replaceAll(home, '{home}'), text);
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
