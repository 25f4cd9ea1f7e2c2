import { rangesOverlap, type TextEdit } from '../text/edits.ts';
import { misspeltIn } from '../names/misspelt.ts';
import type { Occurrence } from '../names/name-finder.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { judge } from './judges.ts';
import type { Match } from './match.ts';
import { isWanted, type Matching, type NamePair } from './matching.ts';
import { FileView, Mention } from './mention.ts';

/**
 * Finds every place in a text that holds an old name and decides what becomes of it.
 * @param declared edits that write the names into the document's own fields; they come before everything else
 */
export function matchText(file: FileView, declared: readonly TextEdit[]): Match[] {
  const written = declared.map((edit) => trimmed(edit, file));
  const matches = written.map(({ start, end, text: replacement }): Match => ({ start, end, kind: 'declared', replacement }));
  const mentions = mentionsIn(file).filter((mention) => !written.some((edit) => rangesOverlap(edit, mention)));
  const { begun } = file.matching;
  const taken = [...written, ...mentions];
  const misspelt = begun === undefined ? [] : misspeltIn(file.text, file.zones, begun);
  const mended = misspelt
    .filter((edit) => !taken.some((each) => rangesOverlap(each, edit)))
    .map(({ start, end, text: replacement }): Match => ({ start, end, kind: 'identifier', judge: 'misspelt', replacement }));
  return [...matches, ...mentions.map(judge), ...mended].sort((a, b) => a.start - b.start);
}

/** An edit without the parts before it that it leaves as they are: a name in them is judged by itself. */
function trimmed(edit: TextEdit, { source, matching }: FileView): TextEdit {
  const before = source.text.slice(edit.start, edit.end);
  const mentions = matching.pairs.flatMap(({ finder }) => finder.find(before));
  if (mentions.length < 2) return edit;
  // From joint to joint, so that no word is cut.
  const parts = (text: string): string[] => text.split(/(?<=[/\\\\:.])/);
  const [old, now] = [parts(before), parts(edit.text)];
  let head = 0;
  while (head < Math.min(old.length, now.length) - 1 && old[head] === now[head]) head++;
  const length = old.slice(0, head).join('').length;
  return { start: edit.start + length, end: edit.end, text: edit.text.slice(length) };
}

/** The places in a text that hold an old name. */
export function findMentions(source: SourceDocument, matching: Matching): Mention[] {
  return mentionsIn(new FileView(source, textForNames(source, matching), matching));
}

function mentionsIn(file: FileView): Mention[] {
  const { text, matching } = file;
  const mentions = findAll(text, matching).map(({ occurrence, pair }) => new Mention(occurrence, pair, file));
  return mentions.filter((mention) => mention.isOnOneLine || mention.isInFlowingText);
}

/** Of an escape (`\nAlbar`, `\\balbar-`) or a placeholder (`%sAlbar`) the letter before a name does not belong to it. */
const ESCAPE = /(?:\\[nrtbfvBwWsSdD]|%(?:\d+\$)?[-+0]?\d*(?:\.\d+)?[sdifuxegc])$/;

/** A text as names are looked for in it: with a blank in place of the letter of each escape or placeholder that a name follows; offsets stay. */
export function textForNames({ file, text }: SourceDocument, { pairs }: Matching): string {
  if (!/\\[a-zA-Z]|%[\d$.+-]*[a-z]/.test(text) || ['prose', 'stylesheet'].includes(kindOfPath(file))) return text;
  const starts = pairs
    .flatMap(({ finder }) => finder.find(text).map(({ start }) => start))
    .filter((start) => ESCAPE.test(text.slice(Math.max(0, start - 12), start)));
  const inOrder = [...new Set(starts)].sort((a, b) => a - b);
  return inOrder.map((start, i) => `${text.slice(inOrder[i - 1] ?? 0, start - 1)} `).join('') + text.slice(inOrder.at(-1) ?? 0);
}

interface MentionOfPair {
  readonly occurrence: Occurrence;
  readonly pair: NamePair;
}

/** Titles first: the id inside a title is a part of it. Names that are not written letter by letter come last: a part of them can be. */
function findAll(text: string, { pairs }: Matching): readonly MentionOfPair[] {
  const plain = pairs.map((pair) => ({
    pair,
    own: pair.finder.find(text).filter((each) => (pair.sort === 'id' || each.edges !== 'inside-word') && isWanted(pair, each)),
  }));
  const encoded = pairs.map((pair) => ({ pair, own: pair.encoded.find(text).filter(({ edges }) => edges !== 'inside-word') }));
  return [...plain, ...encoded].reduce<readonly MentionOfPair[]>(
    (all, { pair, own }) =>
      withOthers(
        all,
        own.map((occurrence) => ({ occurrence, pair })),
      ),
    [],
  );
}

/** Puts what overlaps nothing that was found already among it. Both are in the order of the text, and so is the result. */
function withOthers(found: readonly MentionOfPair[], more: readonly MentionOfPair[]): readonly MentionOfPair[] {
  if (more.length === 0) return found;
  const all: MentionOfPair[] = [];
  let next = 0;
  for (const each of more) {
    const { start, end } = each.occurrence;
    for (let own = found[next]; own !== undefined && own.occurrence.end <= start; own = found[++next]) all.push(own);
    const other = found[next]?.occurrence;
    if (other === undefined || end <= other.start) all.push(each);
  }
  return [...all, ...found.slice(next)];
}
