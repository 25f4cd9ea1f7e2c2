import { atRulesSyntax } from './at-rules.ts';
import { commentHeaderSyntax } from './comment-header.ts';
import { commentTagsSyntax } from './comment-tags.ts';
import { headerLinesSyntax } from './header-lines.ts';
import { iniSyntax } from './ini.ts';
import { javascriptSyntax } from './javascript.ts';
import { jsonSyntax } from './json.ts';
import { keyValueSyntax } from './key-value.ts';
import { phpSyntax } from './php.ts';
import { poSyntax } from './po.ts';
import { bounded } from './bounded.ts';
import type { Syntax } from './syntax.ts';
import { tomlSyntax } from './toml.ts';
import { xmlSyntax } from './xml.ts';
import { yamlSyntax } from './yaml.ts';

const ALL = [
  yamlSyntax,
  jsonSyntax,
  tomlSyntax,
  iniSyntax,
  keyValueSyntax,
  xmlSyntax,
  commentHeaderSyntax,
  headerLinesSyntax,
  commentTagsSyntax,
  atRulesSyntax,
  poSyntax,
  phpSyntax,
  javascriptSyntax,
];

/** Every document syntax, by the name that platform files use. A new one is entered above and nowhere else. */
const SYNTAXES: ReadonlyMap<string, Syntax> = new Map(ALL.map((syntax) => [syntax.name, bounded(syntax)]));

export function findSyntax(name: string): Syntax | undefined {
  return SYNTAXES.get(name);
}

export function syntaxNames(): string[] {
  return [...SYNTAXES.keys()];
}
