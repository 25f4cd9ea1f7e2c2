import type { Theme } from '../theme/theme.ts';

/** The way in which a person, or a fix, can correct a finding. */
export interface Advice {
  /** Stays from one release to the next, as do the names of what stands in the sentence. */
  readonly code: string;
  readonly args: Readonly<Record<string, string | number>>;
  /** The sentence, which may be worded better some day. */
  readonly text: string;
}

/** The names in braces of a sentence. */
type NamesIn<S extends string> = S extends `${string}{${infer Name}}${infer Rest}` ? Name | NamesIn<Rest> : never;
/** The arguments of a code: none where its sentence has no names. */
type Arguments<S extends string> = [NamesIn<S>] extends [never] ? [] : [args: Readonly<Record<NamesIn<S>, string | number>>];

/** Advice of several rules; a sentence of one rule alone stands in that rule. */
const SHARED = {
  add: 'add {what}',
  'add-field': 'add “{key}: {value}”',
  'allow-reading': 'give yourself the right to read it',
  'as-read': '{text}',
  'begin-document': 'write {title} with {fields}',
  'begin-lacking': 'write {title}; what it must say and nobody else knows: {fields}',
  'compose-name': 'the letters of {near} have their marks apart (NFD), which most hosts take for another name: rename the file',
  copy: 'copy {from} to {to}',
  'copy-in-place': 'put a copy of the file in its place',
  'did-you-mean': 'did you mean “{near}”?',
  'load-or-remove': 'load it where it is wanted, or remove it',
  'put-on-shelf': 'put it on a shelf, or name its shelf with --shelf',
  rename: 'rename {from} to {to}',
  'rename-it': 'rename it to “{to}”',
  'rename-key': 'rename “{from}” to “{to}”',
  'rename-with-references': 'rename it, with what refers to it',
  'replace-or-take-out': 'replace it, or take it out',
  'save-again': 'save it again as {format}',
  'save-utf8': 'save it as UTF-8 text',
  'take-out': 'take it out',
  'take-copy': '{id} has one, which the host does not take from there: take a copy with “pionero override”: {path}',
  'take-out-key': 'take “{key}” out',
  'there-already': '“{name}” is there already: remove one',
  write: 'write {value}',
} as const;

type Shared = typeof SHARED;

/**
 * Makes what a rule advises with: a code of its own or one that all rules share, and what stands in the sentence.
 * @param own sentences by their codes; `{name}` stands for what is given
 */
export function advices<const Own extends Readonly<Record<string, string>>>(own: Own) {
  const sentences: Readonly<Record<string, string>> = { ...SHARED, ...own };
  return <C extends string & (keyof Own | keyof Shared)>(code: C, ...[args]: Arguments<(Own & Shared)[C]>): Advice => {
    const values: Readonly<Record<string, string | number>> = args ?? {};
    const text = (sentences[code] ?? '').replace(/\{(\w+)\}/g, (whole, name: string) => String(values[name] ?? whole));
    return { code, args: values, text };
  };
}

export const advise = advices({});

/** What to do where a parent has the file, and the host does not look for it there. */
export function adviseToTake({ names }: Theme, path: string): Advice {
  return advise('take-copy', { id: names.id, path });
}

/** The file of a parent that an advice is to take a copy of; undefined for any other advice. */
export function fileToTake(advice: Advice | undefined): { readonly id: string; readonly path: string } | undefined {
  return advice?.code === 'take-copy' ? { id: String(advice.args['id']), path: String(advice.args['path']) } : undefined;
}

/** What to do where a name is meant that is nearly right: one whose letters have their marks apart looks the same, and is another. */
export function adviseMeant(written: string, near: string): Advice {
  const isSameWord = written !== near && near.normalize('NFC').endsWith(written.normalize('NFC'));
  return isSameWord ? advise('compose-name', { near }) : advise('did-you-mean', { near });
}
