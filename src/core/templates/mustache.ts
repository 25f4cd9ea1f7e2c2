import type { TextRange } from '../text/edits.ts';
import {
  textsBetween,
  type Include,
  type Print,
  type Section,
  type Template,
  type TemplateLanguage,
  type TemplateProblem,
} from './template.ts';

/** Mustache (mustache(5)). Read tolerantly: what is wrong is a problem, and all the rest is there. */
export const mustache: TemplateLanguage = { read, knowsSections: true, isRendered: true };

/** Where nothing fits together, more problems than this say no more. */
const MOST_PROBLEMS = 50;

const SIGILS: ReadonlySet<string> = new Set(['#', '^', '/', '>', '&', '!', '=']);

/** Where white space ends that may begin at a place. */
function spaceIn(text: string, from: number): number {
  let at = from;
  while (/\s/.test(text.charAt(at))) at += 1;
  return at;
}

function read(text: string): Template {
  const includes: Include[] = [];
  const sections: (Section & { until: number })[] = [];
  const prints: Print[] = [];
  const comments: TextRange[] = [];
  const problems: TemplateProblem[] = [];
  const tags: TextRange[] = [];
  const open: (Section & { until: number })[] = [];
  let delimiters = { open: '{{', close: '}}' };
  for (let start = text.indexOf(delimiters.open); start >= 0; start = text.indexOf(delimiters.open, tags.at(-1)?.end)) {
    const inside = start + delimiters.open.length;
    const isTriple = delimiters.open === '{{' && text.startsWith('{', inside);
    const close = isTriple ? '}}}' : delimiters.close;
    const closeAt = text.indexOf(close, inside);
    if (problems.length >= MOST_PROBLEMS) break;
    if (closeAt < 0) {
      problems.push({ code: 'unclosedTag', name: text.slice(start, start + 20), start, end: inside });
      break;
    }
    const end = closeAt + close.length;
    tags.push({ start, end });
    const body = text.slice(inside, closeAt);
    const first = spaceIn(body, 0);
    const sigil = isTriple ? '{' : SIGILS.has(body.charAt(first)) ? body.charAt(first) : '';
    const nameAt = spaceIn(body, sigil === '' ? first : first + 1);
    const name = body.slice(nameAt).trimEnd();
    const nameStart = inside + nameAt;
    if (sigil === '!') comments.push({ start, end });
    else if (sigil === '>') includes.push({ start, end, name, nameStart, isGuarded: open.length > 0 });
    else if (sigil === '=') {
      const [first, second] = name.replace(/=$/, '').trim().split(/\s+/);
      if (first !== undefined && first !== '' && second !== undefined) delimiters = { open: first, close: second };
    } else if (sigil === '#' || sigil === '^') {
      const section = { start, end, name, nameStart, until: text.length };
      sections.push(section);
      open.push(section);
    } else if (sigil === '/') {
      const opened = open.pop();
      if (opened === undefined) problems.push({ code: 'unopenedSection', name, start, end });
      else if (opened.name !== name) problems.push({ code: 'otherSection', name: opened.name, other: name, start, end });
      else opened.until = end;
    } else prints.push({ start, end, name, nameStart, isRaw: sigil !== '' });
  }
  for (const { name, start, end } of open.slice(-MOST_PROBLEMS)) problems.push({ code: 'unclosedSection', name, start, end });
  return { includes, extends: [], sections, prints, comments, texts: textsBetween(text, tags), problems };
}
