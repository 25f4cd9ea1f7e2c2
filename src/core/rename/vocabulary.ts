import type { TextRange } from '../text/edits.ts';
import { languageNamed } from '../text/languages.ts';
import { isWordOfDeclaration, isWordOfSheet } from '../text/sheet-position.ts';
import type { Zone } from '../text/zones.ts';
import type { Weight } from '../names/weight.ts';
import { identifierAround } from './evidence.ts';

/**
 * Whether a place holds a word of the file’s language, whatever a theme is called: position goes before vocabulary.
 * @param zone the one that the place lies in
 */
export function isOfLanguage(text: string, zones: readonly Zone[], zone: Zone, at: TextRange, weight: Weight): boolean {
  const { language, kind } = zone;
  if (language === undefined) return false;
  const { name, start } = identifierAround(text, at);
  const word = { start, end: start + name.length };
  if (kind === 'markup') return isWordOfTag(text, word, name, weight);
  if (kind !== 'code') return false;
  const isSheet = language === 'sheet' || language === 'sheet-with-lines';
  // `.md\:albar-w`: what follows an escaped sign is part of a name.
  if (isSheet && /\\[^\w\s]$/.test(text.slice(Math.max(0, start - 2), start))) return false;
  if (isSheet) return isWordOfSheet(text, zones, zone, word, weight === 'common');
  const before = text.slice(Math.max(0, start - 2), start);
  return languageNamed(language).keywords.has(name) && !/(?:[.$@#\\]|->|::)$/.test(before);
}

/** The name of an element or of an attribute; not what an attribute says, nor what a template language puts there. */
function isWordOfTag(text: string, word: TextRange, name: string, weight: Weight): boolean {
  const head = text.slice(Math.max(0, word.start - 2000), word.start);
  const declarations = /<[\w-][^<>]*\sstyle\s*=\s*(?:"([^"<>]*)|'([^'<>]*))$/i.exec(head);
  if (declarations !== null) return isWordOfDeclaration(declarations[1] ?? declarations[2] ?? '', name);
  const tag = /<(?:[^<>"'{}]|"[^"]*"|'[^']*'|\{\{[^{}]*\}\}|\{[^{}]*\})*$/.exec(head)?.[0];
  if (tag === undefined) return false;
  // A hyphen makes an element its author’s own (HTML, 4.13.3), and data- an attribute (3.2.6.6).
  if (/^<\/?$/.test(tag)) return !name.includes('-');
  if (!/[\s"'/}]$/.test(tag) || /=\s*$/.test(tag)) return /[@:#.]$/.test(tag) && weight !== 'distinctive';
  return name.includes('-') ? !name.startsWith('data-') && weight !== 'distinctive' && weight !== 'part' : true;
}
