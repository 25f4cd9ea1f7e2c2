import { problemAtPath } from '../configuration/read-configuration.ts';
import { findSyntax } from '../documents/syntaxes.ts';
import type { ConfigurationProblem } from '../errors.ts';
import { matchesAny } from '../files/glob.ts';
import { PLACEHOLDER_NAMES } from '../names/shape.ts';
import { nearest } from '../text/nearest.ts';
import { matchesWhole } from '../text/pattern.ts';
import { compareReleases, type Platform } from './platform.ts';
import type { FieldContract } from './schema.ts';
import { didYouMean } from '../text/sentence.ts';

type Path = readonly (string | number)[];

/** A place in a platform file, and what is wrong there. */
export type ContractProblem = readonly [path: Path, message: string];
type Problem = ContractProblem;

/** Contradictions in a platform file, which its schema cannot see: every command refuses a file that has one. */
export function contractProblems(platform: Pick<Platform, 'contract' | 'source'>): ConfigurationProblem[] {
  const problems = [
    ...typeProblems(platform),
    ...pathProblems(platform),
    ...homeProblems(platform),
    ...roleProblems(platform),
    ...changeProblems(platform),
    ...shapeProblems(platform),
    ...servingProblems(platform),
    ...factProblems(platform),
    ...fieldProblems(platform),
    ...mentionProblems(platform),
  ];
  return problems.map(([path, message]) => problemAtPath(platform.source, path, message));
}

/** A key of a contract as a path; parts can be patterns. */
export function patternPath({ key }: Pick<FieldContract, 'key'>): readonly string[] {
  return typeof key === 'string' ? [key] : key;
}

function* homeProblems({ contract }: Contract): Generator<Problem> {
  if (contract.home.includes('{vendor}') !== (contract.vendor !== undefined))
    yield [['home'], 'a home with {vendor} and a grammar of vendors belong together'];
}

type Contract = Pick<Platform, 'contract'>;

/** One fact with two types: whoever writes it could not satisfy both. */
function* typeProblems({ contract }: Contract): Generator<Problem> {
  const types = new Map<string, string>();
  for (const [i, document] of contract.documents.entries()) {
    for (const [j, field] of document.fields.entries()) {
      const known = types.get(field.fact);
      if (known !== undefined && known !== field.type && field.shape === undefined) {
        yield [['documents', i, 'fields', j], `the fact “${field.fact}” is ${field.type} here and ${known} in another document`];
      }
      if (field.shape === undefined) types.set(field.fact, known ?? field.type);
      if (field.values !== undefined && field.default !== undefined && !field.values.includes(field.default)) {
        yield [['documents', i, 'fields', j, 'default'], `the default “${field.default}” is not one of the allowed values`];
      }
    }
  }
}

/** Parents that the host does not bring, files that are made from themselves or that nothing tells apart, and halves of template languages. */
function* servingProblems({ contract }: Contract): Generator<Problem> {
  const { 'built-in': brought, 'built-in-files': files } = contract.inheritance;
  for (const id of Object.keys(files))
    if (!brought.includes(id))
      yield [['inheritance', 'built-in-files', id], `“${id}” is not one of the parents that the host brings (built-in)`];
  for (const [i, { file, from }] of contract.made.entries()) {
    if (file === from) yield [['made', i, 'from'], 'the file would be made of itself'];
    else if (file.includes('{path}') !== from.includes('{path}')) yield [['made', i, 'from'], 'both or neither must hold {path}'];
  }
  const language = contract.templates?.language;
  if (typeof language === 'object' && (language.opens.length === 0) !== (language.closes.length === 0))
    yield [['templates', 'language', language.opens.length === 0 ? 'closes' : 'opens'], '“opens” and “closes” belong together'];
  if (typeof language === 'object')
    for (const [i, { shape }] of language.names.entries())
      if (shape === '') yield [['templates', 'language', 'names', i], 'nothing says how such a name is written (shape)'];
  if (contract.templates?.['named-theme'] !== undefined && contract.inheritance.kind === 'none')
    yield [['templates', 'named-theme'], 'an include cannot name another theme where themes have no parents'];
}

/** Facts that something else asks for, and that no field carries: nothing would ever state them. */
function* factProblems({ contract }: Contract): Generator<Problem> {
  const { inheritance, assets, regions, strings, documents, files } = contract;
  const carried = new Set(documents.flatMap(({ fields }) => fields.map(({ fact }) => fact)));
  // Where one theme ends every chain unasked, themes need not name it.
  const isParentNamed = inheritance.kind !== 'none' && inheritance['always-last'] === undefined;
  const references: (readonly [Path, string | undefined])[] = [
    [['inheritance', 'fact'], isParentNamed ? inheritance.fact : undefined],
    [['inheritance', 'vendor-fact'], inheritance['vendor-fact']],
    [['inheritance', 'made-for'], inheritance['made-for']],
    [['inheritance', 'styles', 'fact'], inheritance.styles?.fact],
    [['inheritance', 'commons', 'fact'], inheritance.commons?.fact],
    [['assets', 'sheets-fact'], assets['sheets-fact']],
    [['assets', 'bundles-fact'], assets['bundles-fact']],
    [['regions', 'fact'], regions?.fact],
    [['strings', 'languages'], strings?.languages],
    ...files.map((file, i) => [['files', i, 'required-when'], file['required-when']?.fact] as const),
    ...documents.map((document, i) => [['documents', i, 'required-when'], document['required-when']?.fact] as const),
    ...documents.flatMap(({ fields }, i) =>
      fields.flatMap((field, j) =>
        (['required-when', 'allowed-when'] as const).map((word) => [['documents', i, 'fields', j, word], field[word]?.fact] as const),
      ),
    ),
  ];
  for (const [path, fact] of references) {
    if (fact === undefined || carried.has(fact)) continue;
    const near = nearest(fact, [...carried]);
    yield [path, `no field carries the fact “${fact}”${near === undefined ? '' : `; ${didYouMean(near, '')}`}`];
  }
}

/** Contradictions within one field. */
function* fieldProblems({ contract }: Contract): Generator<Problem> {
  for (const [i, document] of contract.documents.entries()) {
    for (const [j, field] of document.fields.entries()) {
      const at = ['documents', i, 'fields', j] as const;
      const isPath = [field.type, field.of].includes('path');
      if (field['required-when'] !== undefined && field.required === 'always')
        yield [[...at, 'required-when'], 'it is required always, so nothing else decides it'];
      if (field['required-when']?.fact === field.fact || field['allowed-when']?.fact === field.fact)
        yield [[...at, 'fact'], 'a field cannot decide itself whether it counts'];
      if (field.grammar !== undefined && field.pattern === undefined)
        yield [[...at, 'grammar'], 'there is no pattern that it would put into words'];
      if (field.or?.includes(field.type) === true) yield [[...at, 'or'], `“${field.type}” is its type already`];
      if (isPath && field.shape !== undefined && !field.shape.includes('{path}'))
        yield [[...at, 'shape'], 'the shape of a path must hold {path}'];
      const default_ = field.default;
      if (default_ !== undefined && field.pattern !== undefined && !matchesWhole(default_, field.pattern))
        yield [[...at, 'default'], `the default “${default_}” does not match the pattern`];
      for (const [, name = ''] of patternPath(field)
        .join('/')
        .matchAll(/\{([a-z]+)(?::[A-Za-z]+)?\}/g))
        if (!['id', 'vendor', 'title'].includes(name))
          yield [[...at, 'key'], `“{${name}}” stands for no name of the theme; {id}, {vendor} and {title} do`];
    }
  }
}

/** Shapes that are to hold a file’s path, or the key of a text, and do not. */
function* mentionProblems({ contract }: Contract): Generator<Problem> {
  for (const [i, { shape, file, relative, under }] of contract.references.entries()) {
    const isOpen = /\{(?:path|name)\}/.test(shape);
    // A call that implies one file names none.
    if (!isOpen && file === undefined) yield [['references', i, 'shape'], 'it must hold {path} or {name}, or say which file is meant'];
    if (!isOpen && file?.some((each) => /\{(?:path|name)\}/.test(each)) === true)
      yield [['references', i, 'file'], 'the shape holds nothing that could stand in it'];
    if (relative && under !== undefined)
      yield [['references', i, 'under'], 'the path starts from the folder of its file (relative), or from this one'];
  }
  const { strings } = contract;
  if (strings !== undefined && strings['host-keys'].length > 0 && strings.used === undefined && strings.keys === undefined)
    yield [['strings', 'host-keys'], 'nothing says how texts are asked for (used), or what their keys look like (keys)'];
}

/** Key paths that the document's syntax cannot hold: nothing would ever be read or written there. */
function* pathProblems({ contract }: Contract): Generator<Problem> {
  for (const [i, document] of contract.documents.entries()) {
    for (const [j, field] of document.fields.entries()) {
      const problem = findSyntax(document.syntax)?.problemOfPath?.(patternPath(field).filter((part) => part !== '**'));
      if (problem !== undefined) yield [['documents', i, 'fields', j, 'key'], problem];
    }
  }
}

function* changeProblems({ contract }: Contract): Generator<Problem> {
  for (const [i, { since, gone = since, written, now = '' }] of contract.changes.entries()) {
    if (compareReleases(gone, since) < 0)
      yield [['changes', i, 'gone'], `the old way ends before release ${since}, in which the new one begins`];
    const given = new Set(written.match(/\{(?:name|path)\}/g));
    const strange = (now.match(/\{(?:name|path)\}/g) ?? []).find((each) => !given.has(each));
    if (strange !== undefined) yield [['changes', i, 'now'], `${strange} stands in no place of “${written}”`];
  }
  for (const [name, { 'replaced-by': by }] of Object.entries(contract.templates?.roles ?? {}))
    if (by !== undefined && contract.templates?.roles[by] === undefined)
      yield [['templates', 'roles', name, 'replaced-by'], `there is no role “${by}”`];
}

function* roleProblems({ contract }: Contract): Generator<Problem> {
  const roles = contract.templates?.roles ?? {};
  for (const [name, role] of Object.entries(roles)) {
    if (role.else !== undefined && roles[role.else] === undefined)
      yield [['templates', 'roles', name, 'else'], `there is no role “${role.else}” to fall back on`];
    const seen = new Set<string>();
    for (let at: string | undefined = name; at !== undefined; at = roles[at]?.else) {
      if (seen.has(at)) {
        yield [['templates', 'roles', name], 'the role falls back on itself'];
        break;
      }
      seen.add(at);
    }
    if (contract.templates !== undefined && !matchesAny(role.file, contract.templates.files))
      yield [
        ['templates', 'roles', name, 'file'],
        `${role.file} is among none of the template files (${contract.templates.files.join(', ')})`,
      ];
  }
  const front = contract.templates?.front;
  if (front !== undefined && roles[front] === undefined) yield [['templates', 'front'], `there is no role “${front}”`];
  for (const [state, { roles: shown }] of Object.entries(contract.states))
    for (const [i, role] of shown.entries())
      if (roles[role] === undefined) yield [['states', state, 'roles', i], `there is no role “${role}”`];
}

function* shapeProblems({ contract }: Contract): Generator<Problem> {
  const shapes: Problem[] = [
    [['home'], contract.home],
    ...contract.documents.map(({ path }, i): Problem => [['documents', i, 'path'], path]),
    ...contract.identifiers.flatMap(({ shape }, i) => shape.map((each): Problem => [['identifiers', i, 'shape'], each])),
    [['package', 'name'], contract.package.name],
    [['package', 'top'], contract.package.top],
  ];
  for (const [path, shape] of shapes) {
    for (const [, name = ''] of shape.matchAll(/\{([a-z]+)(?::[A-Za-z]+)?\}/g)) {
      if (!PLACEHOLDER_NAMES.includes(name))
        yield [path, `“{${name}}” is no placeholder; there are ${PLACEHOLDER_NAMES.map((each) => `{${each}}`).join(', ')}`];
    }
  }
}
