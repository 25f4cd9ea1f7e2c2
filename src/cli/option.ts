import { didYouMean } from '../core/text/sentence.ts';
import { nearest } from '../core/text/nearest.ts';

/** The form of an option of a command. Plain data: help, completion and the manual page are made of it, and it loads nothing. */
export interface Option<T = unknown> {
  readonly about: string;
  /** What its value is called in the help (`--shelf DIR`); undefined for a switch. */
  readonly value: string | undefined;
  /** Whether it can be given several times. */
  readonly isList: boolean;
  /** The only values that it takes; none when it takes others. */
  readonly choices: readonly string[];
  /** The whole numbers that it takes; undefined when it takes texts. */
  readonly range: { readonly from: number; readonly to?: number } | undefined;
  /** The default, in words. */
  readonly initial: T;
  /** The name that it had before, which goes on working and is not shown. */
  readonly formerly?: FormerOption | undefined;
}

/** The name that an option had, and what its values were called then, by those of today. */
export interface FormerOption {
  readonly name: string;
  readonly values?: Readonly<Record<string, string>> | undefined;
}

/** Options by what a command's code calls them. */
export type Options = Readonly<Record<string, Option>>;

/** The values that a command gets for its options. */
export type Values<O extends Options> = { readonly [K in keyof O]: O[K] extends Option<infer T> ? T : never };

const PLAIN = { value: undefined, isList: false, choices: [], range: undefined };

/** A switch. One that is on by default can only be switched off: `--no-color`. */
export function flag(about: string, initial = false): Option<boolean> {
  return { ...PLAIN, about, initial };
}

export function text(value: string, about: string): Option<string | undefined>;
export function text(value: string, about: string, initial: string): Option<string>;
export function text(value: string, about: string, initial?: string): Option<string | undefined> {
  return { ...PLAIN, about, value, initial };
}

/** A text that can be given several times. */
export function texts(value: string, about: string): Option<readonly string[]> {
  return { ...PLAIN, about, value, isList: true, initial: [] };
}

export function choice<const C extends string>(choices: readonly C[], value: string, about: string): Option<C | undefined>;
export function choice<const C extends string>(choices: readonly C[], value: string, about: string, initial: C): Option<C>;
export function choice<C extends string>(choices: readonly C[], value: string, about: string, initial?: C): Option<C | undefined> {
  return { ...PLAIN, about, value, choices, initial };
}

/** One of some words, which can be given several times. */
export function choices<const C extends string>(all: readonly C[], value: string, about: string): Option<readonly C[]> {
  return { ...PLAIN, about, value, choices: all, isList: true, initial: [] };
}

/** An option that had another name: lines that people have in scripts go on working. @param values today’s, by those that it took */
export function renamed<T>(option: Option<T>, name: string, values?: Readonly<Record<string, string>>): Option<T> {
  return { ...option, formerly: { name, values } };
}

type Range = { readonly from: number; readonly to?: number };

/** A whole number. */
export function whole(value: string, about: string, range: Range): Option<number | undefined>;
export function whole(value: string, about: string, range: Range, initial: number): Option<number>;
export function whole(value: string, about: string, range: Range, initial?: number): Option<number | undefined> {
  return { ...PLAIN, about, value, range, initial };
}

/** The command line's values for an option: nothing, a switch, a text, or several. */
export type Given = string | boolean | readonly string[] | undefined;

/** The value on the command line for an option, under its name or the one that it had. */
export function givenFor(name: string, { formerly }: Option, given: Readonly<Record<string, Given>>): Given {
  const then = formerly === undefined ? undefined : given[formerly.name];
  return given[name] ?? (typeof then === 'string' ? (formerly?.values?.[then] ?? then) : then);
}

/** The value of an option, as its command takes it; or why it does not, to stand after “--jobs does not take this value”. */
export function readValue(option: Option, given: Given): { readonly value: unknown } | { readonly problem: string } {
  if (given === undefined) return { value: option.initial };
  const { choices: allowed, range } = option;
  const all = [given].flat().map(String);
  if (range !== undefined) {
    const [last = ''] = all;
    const number = Number(last);
    const { from, to = Infinity } = range;
    if (last.trim() !== '' && Number.isInteger(number) && number >= from && number <= to) return { value: number };
    const span = to === Infinity ? `from ${from} on` : `from ${from} to ${to}`;
    return { problem: `: a whole number ${Number.isInteger(number) ? `${span} ` : ''}is expected` };
  }
  const wrong = allowed.length === 0 ? undefined : all.find((each) => !allowed.includes(each));
  if (wrong === undefined) return { value: given };
  const near = nearest(wrong, allowed);
  return { problem: `; allowed: ${allowed.join(', ')}${near === undefined ? '' : `; ${didYouMean(near, '')}`}` };
}
