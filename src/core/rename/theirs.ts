import { folderOf, isInFolder, resolveInTree } from '../files/file-tree.ts';
import { stretchAround } from '../text/stretch.ts';
import { kindOfPath, type FileKind } from '../text/file-kinds.ts';
import type { TextRange } from '../text/edits.ts';
import type { Zone } from '../text/zones.ts';
import { entryKeys } from './credits.ts';
import { lineAround } from './kept.ts';

/** As much of a theme as tells whether something else is meant. */
export interface OwnNames {
  /** The theme's id. */
  readonly id: string;
  /** Where the host keeps the theme: `themes/albar`; undefined when that says no more than the name. */
  readonly home: string | undefined;
  /** Whether a file of the theme is called so, without its folder, a leading underscore and its ending. */
  readonly hasStem: (stem: string) => boolean;
}

/** A place in a text. */
interface Place {
  readonly text: string;
  readonly at: TextRange;
  readonly zone: Zone | undefined;
}

/**
 * Judges mentions in one file: whether they belong to others. A package that the theme depends on, an account or a repository, and a path
 * that leads out of the theme do. References that lead to a file of the theme are not asked about.
 */
export class OwnershipJudge {
  readonly #folder: string;
  readonly #kind: FileKind;
  readonly #isDependency: ((place: Place, head: string, line: string) => boolean) | undefined;

  constructor(file: string) {
    this.#folder = folderOf(file);
    this.#kind = kindOfPath(file);
    this.#isDependency = DEPENDENCIES.find(([pattern]) => pattern.test(`/${file}`))?.[1];
  }

  isTheirs(place: Place, own: OwnNames): boolean {
    const { text, at } = place;
    if (this.#isDependency !== undefined) {
      const { line, start } = lineAround(text, at, 300);
      if (this.#isDependency(place, line.slice(0, at.start - start), line)) return true;
    }
    // Most places: a word of a sentence, or of code.
    const isWord = /^\s?$/.test(text.charAt(at.start - 1)) && /^[\s,;:!?)(]?$/.test(text.charAt(at.end));
    if (isWord && this.#kind !== 'data') return false;
    return isImportOfOthers(place, this.#kind, own) || isAccount(place, this.#kind, own) || isOutside(place, this.#folder, own);
  }
}

const DEPENDENCY_KEY =
  /^(?:(?:dev|peer|optional|bundled?|build|runtime|host|local|test)?-?_?dependencies|require(?:-dev|s)?|suggests?|conflict|replace|provide|resolutions|overrides|optional-dependencies|extras_require|install_requires|build-system)$/i;

/** Files in which names of packages stand: how each is told by its path, and which of its places are names of packages. */
const DEPENDENCIES: readonly (readonly [file: RegExp, isDependency: (place: Place, head: string, line: string) => boolean])[] = [
  [
    /\/(?:package|composer|bower|component|jspm)\.json$/,
    ({ text, at }) => entryKeys(text, at.start).some((key) => DEPENDENCY_KEY.test(key)) && !leadsHere(text, at),
  ],
  [/\/(?:(?:requirements|constraints)[\w.-]*\.(?:txt|in)|requirements)$/i, (_place, head) => /^\s*[\w.[\]-]*$/.test(head)],
  [/\/(?:pyproject\.toml|Cargo\.toml|Pipfile)$/, ({ text, at }) => isInTomlDependencies(text, at.start)],
  [/\/(?:Gemfile|[^/]*\.gemspec)$/, (_place, head) => /^\s*(?:gem|\w+\.add_(?:\w+_)?dependency)\b/.test(head)],
  [/\/go\.mod$/, (_place, head, line) => /^\s*(?:require\s+)?[\w./-]*$/.test(head) && /\sv\d/.test(line)],
  [
    /\/(?:\.github\/.*|\.gitlab-ci|\.circleci\/.*|\.travis|\.drone|azure-pipelines|bitbucket-pipelines|(?:docker-)?compose[\w.-]*)\.ya?ml$/,
    (_place, head) => /^\s*(?:-\s*)?(?:uses|image|container|orb|include)\s*:\s*["']?[\w./@-]*$/.test(head),
  ],
  [/\/(?:Docker|Container)file[\w.-]*$/, (_place, head) => /^\s*FROM\s/i.test(head)],
];

/** `"albar": "file:."`: the theme itself, for its own tools. */
function leadsHere(text: string, { end }: TextRange): boolean {
  return /^"\s*:\s*"(?:file:|link:|workspace:)/.test(text.slice(end, end + 40));
}

/** Below `[project.dependencies]` and its kin, or in a list that is called so. */
function isInTomlDependencies(text: string, offset: number): boolean {
  const head = text.slice(Math.max(0, offset - 4000), offset);
  const section = /^\[+([^\]\n]+)\]+[^\n]*$(?![^]*^\[+[\w".-]+\]+[^\n]*$)/m.exec(head)?.[1] ?? '';
  if (section.split('.').some((part) => DEPENDENCY_KEY.test(part.replaceAll('"', '')) && part !== 'build-system')) return true;
  const list = /^\s*([\w-]+)\s*=\s*\[[^\]]*$/m.exec(head)?.[1] ?? '';
  return DEPENDENCY_KEY.test(list);
}

/** What stands before a string that names a module. */
const IMPORT = /(?:\bfrom|\bimport|\brequire(?:\.resolve)?|@use|@forward|@import|\bimport\.meta\.resolve)\s*\(?\s*$/;

/** `import x from 'albar-icons'`, `@use "albar-grid"`: a package, where no file of the theme is called so. */
function isImportOfOthers({ text, at, zone }: Place, kind: FileKind, { id, hasStem }: OwnNames): boolean {
  // In other languages the same words take files, or modules of the theme.
  if (zone?.language !== 'script' && kind !== 'stylesheet') return false;
  const { line, start } = lineAround(text, at, 300);
  const head = line.slice(0, at.start - start);
  const quote = /["'`](?=[^"'`]*$)/.exec(head);
  if (quote === null || !IMPORT.test(head.slice(0, quote.index))) return false;
  const module = line.slice(quote.index + 1).split(quote[0], 1)[0] ?? '';
  // Relative ones lead to files.
  if (/^(?:[./#~]|\w+:)/.test(module)) return false;
  const name = /^(?:@[^/]+\/)?[^/]+/.exec(module)?.[0] ?? '';
  const last = module.slice(module.lastIndexOf('/') + 1);
  return name !== id && !hasStem(last.replace(/\.\w+$/, '')) && !hasStem(name);
}

const REPOSITORY_KEY =
  /^(?:repo(?:sitory)?(?:[_-]?(?:url|name))?|(?:github|gitlab|codeberg|bitbucket|twitter|mastodon|instagram|bluesky|facebook)(?:[_-](?:repo(?:sitory)?|user(?:name)?|handle|account|id))?|handle|username)$/i;
/** First parts of paths that are folders, and no owner of a repository. */
const FOLDER =
  /^(?:\.{1,2}|themes?|skins?|templates?|layouts?|styles?|css|s[ac]ss|less|js|scripts?|src|lib|dist|public|assets?|static|media|vendors?|plugins?|modules?|packages?|partials?|pages?|images?|img|pictures?|icons?|fonts?|docs?|tests?|build|apps?|sites?|www|htdocs|web|usr|etc|opt|var|home|share|locales?|languages?|strings|kits?|node_modules|and|or|by|an?|the)$/i;
const DOMAIN = /^(?:[\w-]+\.)+[a-z]{2,}$/i;

/** `owner/name` of a repository, `host.example/owner/name`, and `@handle`. */
function isAccount({ text, at, zone }: Place, kind: FileKind, { home }: OwnNames): boolean {
  if (zone?.kind === 'code') return false;
  if (kind === 'data' && isInRepositoryField(text, at.start)) return true;
  const { text: token, start } = stretchAround(text, at, /[\w.@/~+-]/, 200);
  if (home !== undefined && token.includes(home)) return false;
  const [owner = '', name = '', ...more] = token.replace(/[.,]+$/, '').split('/');
  if (more.length > 0) return DOMAIN.test(owner) && kindOfPath(owner) === 'other';
  // Accounts are written in small letters, and “Cierzo/Albar” are two names in a sentence.
  if (kind !== 'prose' || /\p{Lu}/u.test(text.slice(at.start, at.end))) return false;
  if (name === '') return token.startsWith('@');
  return isOwner(owner) && /^[\w.-]+$/.test(name) && at.start > start + owner.length;
}

/** `repository: owner/name`, as the value of a key on its line. */
function isInRepositoryField(text: string, offset: number): boolean {
  const head = text.slice(Math.max(0, offset - 200), offset);
  const key = /(?:^|[\n{,])\s*(?:-\s*)?["']?([\w-]+)["']?\s*[:=]\s*["']?[^"'\n{}[\],]*$/.exec(head)?.[1];
  return key !== undefined && REPOSITORY_KEY.test(key);
}

function isOwner(word: string): boolean {
  return /^[A-Za-z\d][\w-]*$/.test(word) && !FOLDER.test(word);
}

/** Folders of a system, which no theme is in but where its host has them. */
const SYSTEM = /^(?:\/(?:usr|etc|opt|var|home|srv|mnt|media|tmp|root|Users|Library|Applications|Volumes)\/|[A-Za-z]:[\\/])/;

/** A path that leads out of the theme, and not back into it: `../../uploads/albar.png`, `/usr/share/icons/albar`. */
function isOutside({ text, at }: Place, folder: string, { id, home }: OwnNames): boolean {
  const { text: path } = stretchAround(text, at, /[\w.@/~+:\\-]/, 200);
  if (home !== undefined && path.includes(home)) return false;
  if (SYSTEM.test(path)) return true;
  const up = /^(?:\.\.\/)+/.exec(path)?.[0];
  if (up === undefined || resolveInTree(folder, path) !== undefined) return false;
  const rest = path.slice(up.length);
  return rest !== id && !isInFolder(rest, id);
}
