import type * as z from 'zod';
import type { Advice } from './advice.ts';
import type { Acceptance } from './acceptances/acceptances.ts';
import type { Chain } from '../theme/chain.ts';
import type { Shelves } from '../theme/shelf.ts';
import type { Theme } from '../theme/theme.ts';
import type { SourceDocument } from '../text/source-document.ts';
import type { TextEdit, TextRange } from '../text/edits.ts';

export type Severity = 'error' | 'warning' | 'note';

/** A change that fixes a finding. `isSafe`: there is one right answer, so `check --fix` makes it unasked. */
export interface Fix {
  readonly title: Advice;
  readonly isSafe: boolean;
  /** The file that the edits are of; of an empty one where there is none yet. */
  readonly file: string;
  readonly edits: readonly TextEdit[];
  /** Files that go to another place, or get a second one. */
  readonly steps?: readonly FileStep[] | undefined;
}

/** A file that is moved or copied. Paths from the theme's root. */
export interface FileStep {
  readonly op: 'move' | 'copy';
  readonly from: string;
  readonly to: string;
}

/** The fix that some edits of a file are; none where nothing can be written. */
export function fixOf(title: Advice, isSafe: boolean, file: string, edits: readonly TextEdit[] | undefined): Fix | undefined {
  return edits === undefined || edits.length === 0 ? undefined : { title, isSafe, file, edits };
}

/** The values for the placeholders of a message. */
export type MessageArguments = Readonly<Record<string, string | number | undefined>>;

/** Another place that a report is about: where a name is declared, too. */
export interface RelatedPlace {
  /** A key of the rule's `messages`. */
  readonly message: string;
  readonly args?: MessageArguments | undefined;
  /** Undefined: the theme that is checked. */
  readonly theme?: Theme | undefined;
  /** A path from that theme's root. */
  readonly file: string;
  readonly source?: SourceDocument | undefined;
  /** 0-based offsets in `source`. */
  readonly range?: TextRange | undefined;
}

/** The report of a rule: the message's name and its arguments; the sentence is made where it is shown. */
export interface Report {
  /** A key of the rule's `messages`. */
  readonly message: string;
  readonly args?: MessageArguments | undefined;
  /** A path from the theme's root; '' for the theme as a whole. */
  readonly file: string;
  readonly source?: SourceDocument | undefined;
  /** 0-based offsets in `source`. */
  readonly range?: TextRange | undefined;
  readonly hint?: Advice | undefined;
  readonly fix?: Fix | undefined;
  /** When it is less than the rule's: what is an error in code that the host runs is less in data that nobody may read. */
  readonly severity?: Severity | undefined;
  /** True when the host would not recognize the theme because of it. */
  readonly isRefusal?: boolean | undefined;
  /** The id of another theme on the shelf whose name stands where this one's should. */
  readonly carries?: string | undefined;
  /** The other places that it is about. */
  readonly related?: readonly RelatedPlace[] | undefined;
  /** Reports in whose place this one stands. */
  readonly absorbs?: readonly Report[] | undefined;
}

/** Files by path, laid over a right theme; null takes one away. */
export type ExampleFiles = Readonly<Record<string, string | null>>;

/** A rule's examples are its tests and its documentation. They are laid over the bare kit of a shipped platform. */
export interface Example {
  readonly platform: string;
  /** The theme is made a child of this sibling when given. */
  readonly siblings?: Readonly<Record<string, ExampleFiles>> | undefined;
  readonly wrong: ExampleFiles;
  readonly right: ExampleFiles;
}

export interface RuleMeta {
  /** family/name */
  readonly id: string;
  readonly severity: Severity;
  readonly summary: string;
  /** Why the host cares. */
  readonly why: string;
  /** Sentences with `{argument}` placeholders: what is wrong, with the value found and the value wanted. */
  readonly messages: Readonly<Record<string, string>>;
  /** A wrong and a right example; or why there is none: what cannot be shown by files alone. */
  readonly example: Example | { readonly none: string };
  /**
   * Settings of the rule in `pionero.yaml`, besides its severity: `rules: { asset/unused: { ignore: ["extras/**"] } }`.
   * Rules that come with Pionero make these shapes when they are asked for: most programs never do.
   */
  readonly options?: Readonly<Record<string, z.ZodType>> | undefined;
  /** Whether a visitor of the site sees, or misses, what it finds. */
  readonly isSeen?: boolean | undefined;
  /** Whether a theme in which it finds something was not meant to be used yet: it is not installed, and not shown as if it were sound. */
  readonly isUnfinished?: boolean | undefined;
  /** Whether what it finds can be a sign of an error, by which a rule that looks at what others found knows it. */
  readonly isSign?: boolean | undefined;
  /** Whether it looks at what every rule has found, or has not. */
  readonly needsAll?: boolean | undefined;
  /** Whether what it finds depends on the releases of the host that are meant, and on nothing else. */
  readonly isOfReleases?: boolean | undefined;
  /** Whether its findings in a file depend on that file, on the facts, and on the names of other files alone: an editor shows them at once. */
  readonly isOfOneFile?: boolean | undefined;
  /** Whether its findings are about things that nothing uses, or that newer releases call otherwise: editors show such places in a way of their own. */
  readonly tag?: 'unused' | 'outdated' | undefined;
  /** Whether it says no more than that another theme’s name is left: a rename has accounted for every one that is. */
  readonly isOfLeftNames?: boolean | undefined;
  /** Whether what it finds never depends on what the theme is called: the proof of a rename does without it. */
  readonly isNameBlind?: boolean | undefined;
}

/** Everything a rule may look at. It changes nothing. */
export interface RuleContext {
  readonly theme: Theme;
  readonly chain: Chain;
  readonly shelves: Shelves;
  /** The releases of the host that the theme says it is for. */
  readonly releases: readonly string[];
  /** Whether these are known: the theme states them readably, the platform has no place for them, or the check is for one of them. */
  readonly areReleasesKnown: boolean;
  /** The purpose of the check. */
  readonly purpose: 'install' | 'submission';
  /** Patterns of what is left out of packages, as the configuration says it. */
  readonly excluded: readonly string[];
  /** What `pionero.yaml` sets of the rule's own options, read by their shape. */
  readonly options: Readonly<Record<string, unknown>>;
  /** What several rules need of the theme: made when the first of them asks, and kept while the theme is checked. */
  readonly once: <T>(make: (theme: Theme) => T) => T;
}

/** The findings of all rules, for rules that look at them. */
export interface Outcome {
  /** Acceptances that accepted nothing, though their rule ran. */
  readonly unusedAcceptances: readonly Acceptance[];
  /** The ids of all rules. */
  readonly rules: readonly string[];
  /** The findings that nobody accepted. */
  readonly found: readonly Report[];
  /** The id of the theme, and those of what it builds on. */
  readonly own: string;
  readonly parents: readonly string[];
  /** As of {@link RuleContext}. */
  readonly once: RuleContext['once'];
}

export interface Rule {
  readonly meta: RuleMeta;
  check?(context: RuleContext): Iterable<Report>;
  /**
   * Looks at one text of the theme by itself; called for each of them, and before `check`. A theme may be larger than memory:
   * where rules can be asked text by text, it is read once for all of them.
   */
  checkText?(source: SourceDocument, context: RuleContext): Iterable<Report>;
  /** Looks at one file by itself, a text or not; called for each of them, before `checkText`. @param path from the theme's root */
  checkFile?(path: string, context: RuleContext): Iterable<Report>;
  /** Looks at what all other rules have found. */
  after?(outcome: Outcome): Iterable<Report>;
}

/** Keeps the types of a rule's options. */
export function defineRule<S extends Readonly<Record<string, z.ZodType>>>(rule: {
  readonly meta: RuleMeta & { readonly options: S };
  check?(context: RuleContextWith<S>): Iterable<Report>;
  checkText?(source: SourceDocument, context: RuleContextWith<S>): Iterable<Report>;
}): Rule {
  // The shape of the options has read the configuration.
  return rule;
}

type RuleContextWith<S extends Readonly<Record<string, z.ZodType>>> = Omit<RuleContext, 'options'> & {
  readonly options: z.infer<z.ZodObject<S>>;
};

/** Puts arguments into a message. Values are shown in quotes by the message itself. */
export function fillMessage(message: string, args: MessageArguments = {}): string {
  return message.replace(/(“?)\{(\w+)\}/g, (whole, quote: string, name: string) =>
    name in args ? `${quote}${shortened(String(args[name]), quote === '' ? LONGEST_WORDS : LONGEST_VALUE)}` : whole,
  );
}

/** Of a value as it stands in a theme, so many characters tell it from others. */
const LONGEST_VALUE = 60;
/** Text outside quotes is our own wording, which nobody understands by half. */
const LONGEST_WORDS = 240;

function shortened(value: string, longest: number): string {
  const line = value.replace(/\s+/g, ' ');
  return line.length > longest ? `${line.slice(0, longest - 1)}…` : line;
}
