import { UsageError } from '../core/errors.ts';
import { kindOnDisk } from '../core/files/disk.ts';
import { isSamePage, type PageDifference } from '../core/sites/compare-pages.ts';
import type { Chain } from '../core/theme/chain.ts';
import { chainOfEarlier, earlierVersion, whereLooked } from '../core/lineage/earlier.ts';
import type { OpenedTheme } from '../core/theme/open.ts';
import type { Context } from './command.ts';
import { archiveFolders } from './lineage-context.ts';
import { coloured } from './output/diff-text.ts';
import { openSource } from './theme-argument.ts';
import { count, plural } from '../core/text/sentence.ts';

/** Another theme beside the one that is tried, and what people call it. */
export interface Other {
  readonly chain: Chain;
  readonly called: string;
}

/** @throws UsageError when there is no such parent, version or theme */
export async function otherTheme(context: Context, opened: OpenedTheme, against: string): Promise<Other> {
  const { chain, theme, folder, shelves } = opened;
  if (against === 'parent') {
    const [, parent, ...more] = chain.themes;
    if (parent === undefined)
      throw new UsageError({
        what: `${theme.names.id} has no parent here to be compared with`,
        hint: 'name a version, a folder or an archive',
      });
    return { chain: { ...chain, themes: [parent, ...more] }, called: `its parent ${parent.names.id}` };
  }
  if (kindOnDisk(context.path(against)) !== undefined) {
    const other = await openSource(against, context, { isLenient: true });
    return { chain: other.chain, called: context.shown(other.folder) };
  }

  const earlier = await earlierVersion(opened, against, archiveFolders(context, opened), context.opening);
  if (earlier === undefined)
    throw new UsageError({
      what: `there is no ${theme.names.id} ${against} to be compared with`,
      why: whereLooked(folder),
      hint: '--against takes “parent”, a version, a folder or an archive',
    });
  return { chain: chainOfEarlier(earlier, { shelves }), called: `${theme.names.id} ${against} (${earlier.found})` };
}

/** In one line: how many pages differ. */
export function againstText({ called }: Other, differences: readonly PageDifference[]): string {
  const changed = differences.filter((each) => !isSamePage(each)).length;
  return `Against ${called}: ${changed === 0 ? 'no page differs' : `${count(changed, 'page')} ${plural(changed, 'differs', 'differ')}`}`;
}

/** What differs of one page, below its row. */
export function differenceLines(context: Context, difference: PageDifference): string[] {
  const { paint, options } = context;
  if (isSamePage(difference)) return [paint.faint('the same')];
  const { added, removed, gained, lost, statusBefore, templateBefore, diff } = difference;
  const said = [
    ...(statusBefore === undefined ? [] : [`answered with ${statusBefore} before`]),
    ...(templateBefore === undefined ? [] : [`made by ${templateBefore} before`]),
    ...(added + removed === 0
      ? []
      : [`${paint.good(`+${added}`)} ${paint.bad(`−${removed}`)} ${plural(added + removed, 'line', 'lines')}`]),
    ...gained.map((path) => `${paint.good('+')} ${path}`),
    ...lost.map((path) => `${paint.bad('−')} ${path}`),
  ];
  return options.verbose ? [...said, ...diff.map((line) => coloured(line, paint))] : said;
}
