import { rangesOverlap, type TextEdit } from '../text/edits.ts';
import type { Occurrence } from '../names/name-finder.ts';
import type { SourceDocument } from '../text/source-document.ts';
import { kindOfPath } from '../text/file-kinds.ts';
import { judge } from './judges.ts';
import type { KeptStretch } from './kept.ts';
import type { Match } from './match.ts';
import { isWanted, type Matching, type NamePair } from './matching.ts';
import { FileView, Mention } from './mention.ts';

/**
 * Finds every place in a text that holds an old name and decides what becomes of it.
 * @param fixed stretches that stay whatever they hold: the platform's contract says them
 * @param declared edits that write the names into the document's own fields; they come before everything else
 */
export function matchText(
  source: SourceDocument,
  matching: Matching,
  declared: readonly TextEdit[],
  fixed: readonly KeptStretch[] = [],
): Match[] {
  const matches = declared.map(({ start, end, text: replacement }): Match => ({ start, end, kind: 'declared', replacement }));
  const mentions = findMentions(source, matching, fixed).filter((mention) => !declared.some((edit) => rangesOverlap(edit, mention)));
  return [...matches, ...mentions.map(judge)].sort((a, b) => a.start - b.start);
}

/** The places in a text that hold an old name. */
export function findMentions(source: SourceDocument, matching: Matching, fixed: readonly KeptStretch[] = []): Mention[] {
  const text = withoutEscapes(source, matching);
  const file = new FileView(source, text, matching, fixed);
  const mentions = findAll(text, matching).map(({ occurrence, pair }) => new Mention(occurrence, pair, file));
  return mentions.filter((mention) => mention.isOnOneLine || mention.isInFlowingText);
}

/** Of an escape (`\nAlbar`, `\\balbar-`) or a placeholder (`%sAlbar`) the letter before a name does not belong to it. */
const ESCAPE = /(?:\\[nrtbfvBwWsSdD]|%(?:\d+\$)?[-+0]?\d*(?:\.\d+)?[sdifuxegc])$/;

/** A text with a blank in place of the letter of each escape or placeholder that a name follows; offsets stay. */
function withoutEscapes({ file, text }: SourceDocument, { pairs }: Matching): string {
  if (!/\\[a-zA-Z]|%[\d$.+-]*[a-z]/.test(text) || ['prose', 'stylesheet'].includes(kindOfPath(file))) return text;
  const starts = pairs
    .flatMap(({ finder }) => finder.find(text).map(({ start }) => start))
    .filter((start) => ESCAPE.test(text.slice(Math.max(0, start - 12), start)));
  const inOrder = [...new Set(starts)].sort((a, b) => a - b);
  return inOrder.map((start, i) => `${text.slice(inOrder[i - 1] ?? 0, start - 1)} `).join('') + text.slice(inOrder.at(-1) ?? 0);
}

interface Found {
  readonly occurrence: Occurrence;
  readonly pair: NamePair;
}

/** Titles first: the id inside a title is a part of it. */
function findAll(text: string, { pairs }: Matching): Found[] {
  const all: Found[] = [];
  for (const pair of pairs) {
    const own = pair.finder.find(text).filter((each) => pair.sort === 'id' || each.edges !== 'inside-word');
    const earlier = [...all];
    for (const occurrence of own) {
      if (isWanted(pair, occurrence) && !earlier.some((each) => rangesOverlap(each.occurrence, occurrence))) all.push({ occurrence, pair });
    }
  }
  // What is not written letter by letter comes last: a part of it can be.
  for (const pair of pairs)
    for (const occurrence of pair.encoded.find(text))
      if (occurrence.edges !== 'inside-word' && !all.some((each) => rangesOverlap(each.occurrence, occurrence)))
        all.push({ occurrence, pair });
  return all.sort((a, b) => a.occurrence.start - b.occurrence.start);
}
