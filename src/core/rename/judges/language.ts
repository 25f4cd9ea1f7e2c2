import { isSheet, languageNamed } from '../../text/languages.ts';
import { isWordOfDeclaration, isWordOfSheet } from '../sheet-position.ts';
import type { Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

/** A word of the file’s language, whatever a theme is called: position goes before vocabulary. */
export const language: Judge = keeps(
  {
    code: 'language',
    sentence: 'a word of the file’s own language',
    examples: [
      { file: 'a.css', text: 'a { «grid»: none }', names: 'grid → lumbre' },
      { file: 'a.html', text: '<«page» class="x">', names: 'page → lumbre' },
      { file: 'a.js', text: '«import» x from "y";', names: 'import → lumbre' },
    ],
  },
  (mention) => {
    const { zone, text, file, pair } = mention;
    if (zone?.language === undefined) return false;
    // The author of the data named its elements.
    if (zone.kind === 'markup') return file.kind !== 'data' && !hasNoTags(mention) && isWordOfTag(mention);
    if (zone.kind !== 'code') return false;
    const name = mention.identifier;
    const start = mention.identifierStart;
    const before = text.slice(Math.max(0, start - 2), start);
    if (isSheet(zone.language)) {
      // `.md\:albar-w`: what follows an escaped sign is part of a name.
      if (/\\[^\w\s]$/.test(before)) return false;
      return isWordOfSheet(text, file.zones, zone, { start, end: start + name.length }, pair.weight === 'common');
    }
    return languageNamed(zone.language).keywords.has(name) && !/(?:[.$@#\\]|->|::)$/.test(before);
  },
);

/** Markup whose elements stand by their indentation, and in no brackets. */
function hasNoTags({ file }: Mention): boolean {
  return /\.(?:pug|jade|haml|slim)$/i.test(file.source.file);
}

/** The name of an element or of an attribute; not what an attribute says, nor what a template language puts there. */
function isWordOfTag(mention: Mention): boolean {
  const name = mention.identifier;
  const { weight } = mention.pair;
  const head = mention.text.slice(Math.max(0, mention.identifierStart - 2000), mention.identifierStart);
  const declarations = /<[\w-][^<>]*\sstyle\s*=\s*(?:"([^"<>]*)|'([^'<>]*))$/i.exec(head);
  if (declarations !== null) return isWordOfDeclaration(declarations[1] ?? declarations[2] ?? '', name);
  // `<%` and `<?` begin code, whatever element it stands in.
  const tag = /<(?![%?])(?:[^<>"'{}]|"[^"]*"|'[^']*'|\{\{[^{}]*\}\}|\{[^{}]*\})*$/.exec(head)?.[0];
  if (tag === undefined) return false;
  // A hyphen makes an element its author’s own (HTML, 4.13.3), and data- an attribute (3.2.6.6).
  if (/^<\/?$/.test(tag)) return !name.includes('-') && mention.text.charAt(mention.identifierStart + name.length) !== ':';
  if (!/[\s"'/}]$/.test(tag) || /=\s*$/.test(tag)) return /[@:#.]$/.test(tag) && weight !== 'distinctive';
  return name.includes('-') ? !name.startsWith('data-') && weight !== 'distinctive' && weight !== 'part' : true;
}
