/** How a language writes a name of several words where nothing else tells. */
export type Joint = 'snake' | 'camel' | 'kebab';

/** How a language marks text that is not code. */
export interface Language {
  /** Signs after which the rest of a line is a comment; a `#` counts only where a word can begin. */
  readonly line: readonly string[];
  readonly block: readonly (readonly [open: string, close: string])[];
  /** Signs around strings. Those of three signs, and the backtick, may hold line ends. */
  readonly strings: readonly string[];
  readonly joint: Joint;
  /** Words that are the language’s own where they stand alone. */
  readonly keywords: ReadonlySet<string>;
  /** The text between comments and strings: code, markup with tags, or neither. */
  readonly between: 'code' | 'markup' | 'text';
}

const words = (text: string): ReadonlySet<string> => new Set(text.split(/\s+/));

const C_WORDS = `abstract as async await bool boolean break case catch char class const continue default delete do double else enum
  export extends extern false final finally float for foreach from func function get global goto if implements import in inline
  instanceof int interface internal is let long module namespace native new nil none null object of operator override package
  private property protected public readonly return self set short signed sizeof static string struct super switch template this
  throw throws true try type typedef typeof undefined union unsigned using val var virtual void volatile when where while with yield`;

const SCRIPT_WORDS = words(
  `arguments as async await break case catch class const continue debugger default delete do else enum export extends false finally
  for from function get if implements import in instanceof interface let new null of package private protected public return set
  static super switch this throw true try typeof undefined var void while with yield`,
);

const PHP_WORDS = words(
  `abstract and array as bool break callable case catch class clone const continue declare default die do echo else elseif empty
  enddeclare endfor endforeach endif endswitch endwhile enum eval exit extends false final finally float fn for foreach function
  global goto if implements include include_once instanceof insteadof int interface isset iterable list match mixed namespace never
  new null object or parent print private protected public readonly require require_once return self static string switch throw
  trait true try unset use var void while xor yield`,
);

const PYTHON_WORDS = words(
  `and as assert async await break case class continue def del elif else except False finally for from global if import in is lambda
  match None nonlocal not or pass raise return self True try while with yield`,
);
const RUBY_WORDS = words(
  `alias and begin break case class def defined do else elsif end ensure false for if in include module next nil not or private
  protected public redo require rescue retry return self super then true undef unless until when while yield`,
);
const SHELL_WORDS = words(
  `alias break case cd continue declare do done echo elif else esac eval exec exit export false fi for function if in local read
  readonly return select set shift source test then time trap true unset until while`,
);
const LUA_WORDS = words(
  `and break do else elseif end false for function goto if in local nil not or repeat require return then true until while`,
);

const slashes = { line: ['//'], block: [['/*', '*/']], between: 'code' } as const;
const hash = { line: ['#'], block: [], between: 'code' } as const;

/**
 * The languages that themes are written in, by what their lexers need. A language of a family is one more entry here, and
 * one more ending in file-kinds.ts. What else a lexer must know (regular expressions, heredocs) stands in zones.ts.
 */
export const LANGUAGES = {
  script: { ...slashes, strings: ['"', "'", '`'], joint: 'camel', keywords: SCRIPT_WORDS },
  php: { ...slashes, line: ['//', '#'], strings: ['"', "'"], joint: 'snake', keywords: PHP_WORDS },
  sheet: { ...slashes, line: [], strings: ['"', "'"], joint: 'kebab', keywords: new Set() },
  'sheet-with-lines': { ...slashes, strings: ['"', "'"], joint: 'kebab', keywords: new Set() },
  /** Stylesheets whose blocks are told by indentation. */
  'sheet-by-indent': { ...slashes, strings: ['"', "'"], joint: 'kebab', keywords: new Set() },
  markup: { line: [], block: [['<!--', '-->']], strings: [], joint: 'kebab', keywords: new Set(), between: 'markup' },
  xml: { line: [], block: [['<!--', '-->']], strings: [], joint: 'kebab', keywords: new Set(), between: 'markup' },
  /** What template languages put between their signs. */
  expression: { line: [], block: [], strings: ['"', "'"], joint: 'snake', keywords: PYTHON_WORDS, between: 'code' },
  'c-like': { ...slashes, strings: ['"""', '"', "'"], joint: 'camel', keywords: words(C_WORDS) },
  'c-snake': { ...slashes, strings: ['"', "'", '`'], joint: 'snake', keywords: words(C_WORDS) },
  python: { ...hash, strings: ['"""', "'''", '"', "'"], joint: 'snake', keywords: PYTHON_WORDS },
  ruby: { ...hash, block: [['\n=begin', '\n=end']], strings: ['"', "'", '`'], joint: 'snake', keywords: RUBY_WORDS },
  shell: { ...hash, strings: ['"', "'"], joint: 'snake', keywords: SHELL_WORDS },
  powershell: { ...hash, block: [['<#', '#>']], strings: ['"', "'"], joint: 'camel', keywords: SHELL_WORDS },
  lua: { line: ['--'], block: [['--[[', ']]']], strings: ['"', "'"], joint: 'snake', keywords: LUA_WORDS, between: 'code' },
  query: { line: ['--'], block: [['/*', '*/']], strings: ["'", '"', '`'], joint: 'snake', keywords: new Set(), between: 'code' },
  lisp: {
    line: [';'],
    block: [['#|', '|#']],
    strings: ['"'],
    joint: 'kebab',
    keywords: words('defun defvar let nil quote t'),
    between: 'code',
  },
  tex: { line: ['%'], block: [], strings: [], joint: 'camel', keywords: new Set(), between: 'text' },
  /** Settings of servers and services: words and values, a line each. */
  settings: {
    line: ['#', ';'],
    block: [],
    strings: ['"', "'"],
    joint: 'kebab',
    keywords: words('false no off on true yes'),
    between: 'text',
  },
  /** Data whose lines can be comments; its values are text. */
  'data-lines': { line: ['#', ';'], block: [], strings: [], joint: 'kebab', keywords: new Set(), between: 'text' },
} as const satisfies Record<string, Language>;

export type LanguageName = keyof typeof LANGUAGES;

/** A language of the table by its name. */
export function languageNamed(name: LanguageName): Language {
  return LANGUAGES[name];
}

/** Whether a language is one of stylesheets. */
export function isSheet(name: LanguageName | undefined): boolean {
  return name === 'sheet' || name === 'sheet-with-lines' || name === 'sheet-by-indent';
}

/** Whether names of a language can hold hyphens; those of template languages, which are many, may. */
export function hasHyphens(name: LanguageName): boolean {
  return isSheet(name) || HYPHENATED.has(name);
}

const HYPHENATED: ReadonlySet<LanguageName> = new Set(['expression', 'lisp', 'markup', 'powershell', 'settings', 'shell', 'tex', 'xml']);
