import type { FileView, Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

/** A name of a package that the theme depends on, where packages are listed; and the same package wherever else it is named. */
export const dependency: Judge = keeps(
  {
    code: 'dependency',
    group: 'theirs',
    sentence: 'a package that the theme depends on',
    examples: [
      { file: 'package.json', text: '{ "dependencies": { "«albar»-icons": "1.0.0" } }' },
      { file: 'requirements.txt', text: '«albar»-docs==1.0\n' },
      { file: '.github/workflows/a.yml', text: 'steps:\n  - uses: «albar»/setup@v2\n' },
      {
        file: 'build.js',
        text: "plugins(['«albar»-icons']);",
        with: { files: { 'package.json': '{ "devDependencies": { "albar-icons": "1.0.0" } }' } },
      },
    ],
  },
  (mention) => {
    if (mention.pair.sort === 'title') return false;
    const { file } = mention;
    const isListed = file.once('dependency', () => DEPENDENCIES.find(([pattern]) => pattern.test(`/${file.path}`))?.[1]);
    return isListed?.(mention) === true || isKnownPackage(mention);
  },
);

/** A package of a list or a lock file, named in a string or in data: as it is, or with what lies in it. */
function isKnownPackage(mention: Mention): boolean {
  const { packages } = mention.matching;
  if (packages.size === 0 || mention.zone?.kind === 'code') return false;
  const { text } = mention.stretch(/[\w.@/-]/);
  const name = /^(?:@[^/]+\/)?[^/]+/.exec(text.replace(/[.,]+$/, ''))?.[0] ?? '';
  return packages.has(name);
}

const DEPENDENCY_KEY =
  /^(?:(?:dev|peer|optional|bundled?|build|runtime|host|local|test)?-?_?dependencies|require(?:-dev|s)?|suggests?|conflict|replace|provide|resolutions|overrides|optional-dependencies|extras_require|install_requires|build-system)$/i;

/** Files in which names of packages stand: how each is told by its path, and which of its places are names of packages. */
const DEPENDENCIES: readonly (readonly [file: RegExp, isDependency: (mention: Mention) => boolean])[] = [
  [
    /\/(?:package|composer|bower|component|jspm)\.json$/,
    (mention) => mention.keys.some((key) => DEPENDENCY_KEY.test(key)) && !leadsHere(mention),
  ],
  [/\/(?:(?:requirements|constraints)[\w.-]*\.(?:txt|in)|requirements)$/i, ({ lineHead }) => /^\s*[\w.[\]-]*$/.test(lineHead)],
  [/\/(?:pyproject\.toml|Cargo\.toml|Pipfile)$/, (mention) => isInTomlDependencies(mention)],
  [/\/(?:Gemfile|[^/]*\.gemspec)$/, ({ lineHead }) => /^\s*(?:gem|\w+\.add_(?:\w+_)?dependency)\b/.test(lineHead)],
  [/\/go\.mod$/, ({ line, lineHead }) => /^\s*(?:require\s+)?[\w./-]*$/.test(lineHead) && /\sv\d/.test(line)],
  [
    /\/(?:\.github\/.*|\.gitlab-ci|\.circleci\/.*|\.travis|\.drone|azure-pipelines|bitbucket-pipelines|(?:docker-)?compose[\w.-]*)\.ya?ml$/,
    ({ lineHead }) => /^\s*(?:-\s*)?(?:uses|image|container|orb|include)\s*:\s*["']?[\w./@-]*$/.test(lineHead),
  ],
  [/\/(?:Docker|Container)file[\w.-]*$/, ({ lineHead }) => /^\s*FROM\s/i.test(lineHead)],
];

/** `"albar": "file:."`: the theme itself, for its own tools. */
function leadsHere(mention: Mention): boolean {
  return /^"\s*:\s*"(?:file:|link:|workspace:)/.test(mention.after(40));
}

/** Below `[project.dependencies]` and its kin, or in a list that is called so. */
function isInTomlDependencies(mention: Mention): boolean {
  const head = mention.before(4000);
  const section = /^\[+([^\]\n]+)\]+[^\n]*$(?![^]*^\[+[\w".-]+\]+[^\n]*$)/m.exec(head)?.[1] ?? '';
  if (section.split('.').some((part) => DEPENDENCY_KEY.test(part.replaceAll('"', '')) && part !== 'build-system')) return true;
  const list = /^\s*([\w-]+)\s*=\s*\[[^\]]*$/m.exec(head)?.[1] ?? '';
  return DEPENDENCY_KEY.test(list);
}

/** Whether a file lists packages, or was written by a tool that installs them. */
export function listsPackages(path: string): boolean {
  return DEPENDENCIES.some(([pattern]) => pattern.test(`/${path}`)) || /(?:\.lock|-lock\.\w+|\.lockfile)$/i.test(path);
}

/** The names of packages that a list or a lock file holds, as far as they hold one of the theme’s names and are longer. */
export function packagesNamedIn(file: FileView, mentions: readonly Mention[]): string[] {
  const isLock = !DEPENDENCIES.some(([pattern]) => pattern.test(`/${file.path}`));
  return mentions.flatMap((mention) => {
    if (!isLock && dependency.judge(mention) === undefined) return [];
    const whole = mention.stretch(/[\w.@/-]/).text.replace(/^.*node_modules\//, '');
    const name = /^(?:@[^/]+\/)?[A-Za-z][\w.-]*/.exec(whole)?.[0] ?? '';
    return name.replace(/^@[^/]+\//, '').length > 0 && name !== mention.pair.from ? [name] : [];
  });
}
