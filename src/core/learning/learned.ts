import type { LearnedAssets } from './learn-assets.ts';
import type { FieldKind } from '../platform/schema.ts';

/** How many themes bear a line out, of how many that could. */
export interface Seen {
  readonly count: number;
  readonly of: number;
}

/** A line of a platform file that was learned from themes; what is loosened later is changed in place. */
export interface LearnedField {
  readonly key: readonly string[];
  fact: string;
  type: FieldKind;
  of?: FieldKind | undefined;
  separator?: string | undefined;
  shape?: string | undefined;
  values?: readonly string[] | undefined;
  pattern?: string | undefined;
  grammar?: string | undefined;
  none?: string | undefined;
  under?: string | undefined;
  translations?: string | undefined;
  required: boolean;
  readonly seen: Seen;
  /** The first theme's value. */
  readonly example: string;
  /** Why the type was chosen, for people. */
  why: string;
}

export interface LearnedDocument {
  /** May hold {id}. */
  readonly path: string;
  readonly syntax: string;
  readonly options: Readonly<Record<string, unknown>>;
  required: boolean;
  readonly fields: LearnedField[];
  readonly seen: Seen;
}

export interface LearnedFile {
  readonly path: string;
  readonly kind: 'file' | 'folder';
  required: boolean;
  readonly seen: Seen;
}

export interface LearnedImage {
  readonly role: string;
  readonly path: string;
  readonly formats: readonly string[];
  /** Pixels, where all agree. */
  size?: readonly [width: number, height: number] | undefined;
  readonly seen: Seen;
}

/** Sections by what opens and closes each, includes and extensions as shapes. */
export interface LearnedLanguage {
  /** A language that is known by name, and that this one is a kind of. */
  readonly like?: string | undefined;
  sections: { readonly opens: string; readonly closes: string; readonly seen: Seen }[];
  include: { readonly shape: string; readonly seen: Seen }[];
  extend: { readonly shape: string; readonly seen: Seen }[];
  readonly comment: readonly string[];
  readonly print: readonly string[];
}

export interface LearnedTemplates {
  readonly files: readonly { readonly glob: string; readonly seen: Seen }[];
  readonly endings: readonly string[];
  language: LearnedLanguage;
  /** Languages of files of other endings. */
  languages: { readonly files: string; language: LearnedLanguage; readonly seen: Seen }[];
  /** Whether an include names the theme that its file is in. */
  readonly namesTheme: boolean;
  roles: readonly { readonly role: string; readonly file: string; readonly seen: Seen }[];
  partials?: { readonly file: string; relative: 'never' | 'first' | 'always'; readonly seen: Seen; readonly example: string } | undefined;
}

export interface LearnedParents {
  readonly builtIn: readonly string[];
  /** By such a parent, what its children ask for and do not have. */
  readonly serves: Map<string, Set<string>>;
  readonly seen: Seen;
}

export interface Mark {
  readonly path: string;
  readonly holds?: string | undefined;
}

export interface LearnedRegions {
  readonly printed: string;
  /** Whether each role declares its own. */
  readonly isPerRole: boolean;
  /** Names of regions, and those that templates print. */
  readonly seen: Seen;
}

export interface LearnedBundles {
  readonly file: string;
  /** The fact that lists the bundles of every page. */
  readonly fact: string;
  /** Names in such lists, and those that have a document. */
  readonly seen: Seen;
}

export interface LearnedIdentifier {
  readonly files: readonly string[];
  readonly declared: string;
  readonly shape: string;
  /** Names that are declared so, and those of the shape. */
  readonly seen: Seen;
}

/** A platform file before it is written. */
export interface Learned {
  readonly ids: readonly string[];
  /** The theme that is most like the others. */
  readonly middle: string;
  /** Releases of the host that the themes name. */
  readonly releases: readonly string[];
  grammar: { readonly pattern: string; readonly grammar: string; readonly spelling: string };
  marks: readonly Mark[];
  readonly documents: LearnedDocument[];
  readonly files: LearnedFile[];
  readonly images: LearnedImage[];
  templates: LearnedTemplates | undefined;
  mainSheet: { readonly path: string; readonly seen: Seen } | undefined;
  parents: LearnedParents | undefined;
  readonly assets: LearnedAssets;
  readonly leaveOut: readonly string[];
  /** Files that the host asks for by their names. */
  readonly hostFiles: { readonly globs: readonly string[]; readonly names: number } | undefined;
  regions: LearnedRegions | undefined;
  bundles: LearnedBundles | undefined;
  identifiers: readonly LearnedIdentifier[];
  strings: { readonly file: string; readonly format: string; readonly seen: Seen } | undefined;
}
