import type { TextRange } from '../../text/edits.ts';
import type { Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

/** What says whose work something is, or whom it thanks. */
const CREDIT =
  /©|\(c\)\s*\d|\bcopyright\b|SPDX-FileCopyrightText|@(?:author|copyright|license|licence|contributors?)\b|\ball rights reserved\b|\bcredits?\s*:|\bcourtesy of\b|\bthank(?:s|ed)?\s+(?:\w+\s+){0,4}to\b|\bthank you\b|\bwith (?:the )?(?:kind )?help (?:of|from)\b|\b(?:Last-Translator|Language-Team|Signed-off-by|Co-authored-by)\b|\b(?:made|designed|written|created|developed|drawn|built|photographed|translated|maintained|sponsored|contributed|donated|photos?|pictures?|icons?|fonts?|illustrations?|translations?) by\b|\b(?:authors?|maintainers?|contributors?|photographer)["']?\s*[:=]/i;
const COPYRIGHT = /^\W*(?:copyright\b|©|\(c\)\s*\d|SPDX-FileCopyrightText)/i;
const PERSONS =
  '(?:(?:co-?)?authors?(?:[_-]?(?:name|email))?|maintainers?(?:[_-]?(?:name|email))?|contributors?|copyright|credits?|thanks|translators?|photographers?|creator|publisher|sponsors?|rights)';
/** The same anywhere in a text. */
const PERSON = new RegExp(PERSONS, 'i');
/** Keys of entries, and names of attributes, under which people stand. */
const PEOPLE = new RegExp(`^${PERSONS}$`, 'i');
/** The same before a string of code: `author='…'`, `'authors' => ['…`, `"maintainer": "…`. */
const PEOPLE_BEFORE = new RegExp(`(?:^|[^\\w-])${PERSONS}["']?\\]?\\s*(?:=>?|:)\\s*[[({]*\\s*(?:["'][^"']*["'][,\\s]*)*["'][^"']*$`, 'i');
/** Headings of lists of people. */
const PEOPLE_HEADING =
  /^(?:#+\s*)?(?:\w+\s+){0,3}(?:authors?|contributors?|credits?|thanks|acknowledge?ments?|maintainers?|translators?|sponsors?)\b[^.]{0,40}$/i;

/** A place in what says whose work something is. What counts is the unit that it lies in: a line, an attribute, an entry of data; code has no credits. */
export const credit: Judge = keeps(
  {
    code: 'credit',
    group: 'credit',
    sentence: 'in a credit or copyright line',
    examples: [
      { file: 'a.php', text: '<?php // Copyright 2026 The «Albar» people' },
      { file: 'a.html', text: '<meta name="author" content="«Albar» League">' },
      { file: 'a.po', text: 'msgid ""\nmsgstr ""\n"Last-Translator: «Albar» wardens\\n"\n' },
      { file: 'setup.py', text: "setup(name='huts', author='«Albar» wardens')" },
      { file: 'README.md', text: '## Contributors\n\n- Cierzo\n- «Albar» wardens\n' },
    ],
  },
  isCredit,
);

function isCredit(mention: Mention): boolean {
  const { zone, text, file } = mention;
  // “This file is part of Albar” is about the theme, whatever stands around it.
  if (
    zone?.kind === 'code' ||
    /\bthis (?:file|program|work) is part of (?:the )?["“']?$/i.test(mention.before(60).replace(/\s+(?:[*#;/]+\s*)?/g, ' '))
  )
    return false;
  // Most files credit nobody.
  if (!file.once('credits', () => CREDIT.test(text) || PERSON.test(text))) return false;
  if (zone?.kind === 'comment') return isCreditLine(mention, zone);
  if (zone?.kind === 'string') return isCreditLine(mention, zone) || PEOPLE_BEFORE.test(mention.lineHead);
  if (zone?.kind === 'markup') return isCreditOfMarkup(mention, zone);
  if (file.kind === 'data') return mention.keys.some((key) => PEOPLE.test(key)) || CREDIT.test(entryAround(mention));
  return isCreditLine(mention, { start: 0, end: text.length }) || isInListOfPeople(mention);
}

/** The line around a place, as far as it lies in a stretch; or the line below it, where that states the copyright of what it names. */
function isCreditLine(mention: Mention, within: TextRange): boolean {
  const { text, line, lineStart, start, end } = mention;
  const from = Math.max(lineStart, within.start);
  const until = Math.min(lineStart + line.length, within.end);
  const own = text.slice(from, until);
  if (CREDIT.test(own)) return true;
  const next = /^\r?\n([^\n]*)/.exec(text.slice(until, Math.min(within.end, until + 300)))?.[1] ?? '';
  return COPYRIGHT.test(next) && isNameLine(own, end - start);
}

/** A line that says little more than what something is called: `Albar 1.2`, ` * Theme Albar`. */
function isNameLine(line: string, length: number): boolean {
  return line.replace(/[^\p{L}\p{N}]+/gu, '').length < length + 24 && !/[:=]\s*\S/.test(line);
}

/** An item of a list below a heading that says that people follow. */
function isInListOfPeople(mention: Mention): boolean {
  if (mention.file.kind !== 'prose' || !/^\s*(?:[-*+•]|\d+[.)])\s/.test(mention.line)) return false;
  const above = mention.before(3000).split('\n').slice(0, -1).toReversed();
  const heading = above.find(
    (line, i) => line.startsWith('#') || /^([=\-~^*])\1{2,}\s*$/.test(above[i - 1] ?? '') || /^\S[^:]*:\s*$/.test(line),
  );
  return heading !== undefined && PEOPLE_HEADING.test(heading.trim());
}

function isCreditOfMarkup(mention: Mention, zone: TextRange): boolean {
  const { text, line, lineStart, start } = mention;
  const head = text.slice(Math.max(zone.start, start - 2000), start);
  const tag = /<[\w-]+(?:[^<>"']|"[^"]*"|'[^']*')*(?:"[^"]*|'[^']*)?$/.exec(head)?.[0];
  if (tag === undefined) {
    const own = text.slice(Math.max(lineStart, zone.start), Math.min(lineStart + line.length, zone.end));
    return CREDIT.test(own.replace(/<[^<>]*>/g, ' ')) || openElements(head).some((name) => PEOPLE.test(name));
  }
  const name = /([\w:-]+)\s*=\s*["']?[^"']*$/.exec(tag)?.[1] ?? '';
  const of = /\b(?:name|property|itemprop)\s*=\s*["']?(?:\w+:)?([\w-]+)/i.exec(tag)?.[1] ?? '';
  const value = /=\s*["']([^"']*)$/.exec(tag)?.[1] ?? '';
  const rest = /^[^"'<>]*/.exec(text.slice(start, start + 300))?.[0] ?? '';
  return PEOPLE.test(name) || (name.toLowerCase() === 'content' && PEOPLE.test(of)) || CREDIT.test(value + rest);
}

/** The elements that are open at the end of a stretch of markup. */
function openElements(head: string): string[] {
  const open: string[] = [];
  for (const [, slash, name = '', empty] of head.matchAll(/<(\/?)([A-Za-z][\w:-]*)(?:[^<>"']|"[^"]*"|'[^']*')*?(\/?)>/g)) {
    if (slash === '/') open.splice(Math.max(0, open.lastIndexOf(name)));
    else if (empty !== '/') open.push(name);
  }
  return open;
}

/** The value that a place lies in, without its neighbors on the line. */
function entryAround({ line, lineStart, start }: Mention): string {
  const offset = start - lineStart;
  const quoted = [...line.matchAll(/"(?:[^"\\]|\\.)*"|'[^']*'/g)].find(
    (each) => each.index <= offset && offset < each.index + each[0].length,
  );
  return quoted === undefined ? line : quoted[0];
}
