// Learns platform files from the themes that Debian and npm package for the hosts that Pionero ships, five-fold and with the shipped file
// hidden: from four fifths of them, a file that the other fifth is judged by, as it is and with one mistake at a time. Prints how many are
// taken without an error that the file makes, how many mistakes are found, and which lines say otherwise than the shipped file.
// Needs Debian’s apt-get and dpkg-deb, and npm. Hosts can be named, to try them alone; --verbose prints what is refused and missed;
// with --themes=FOLDER what was fetched stays there for the next run.
import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { checkTheme, DiskTree, draftPlatform, judgeThemes, openChain, RULES, shippedPlatforms, Shelves, Theme } from '../dist/core.js';
import { commonTo, mistakesIn } from './mistakes.mjs';
import { packagedThemes } from './packages.mjs';

const AIMS = { taken: 0.9, found: 0.75, wrong: 0.03 };
const FOLDS = 5;
const NAMES = ['icons', 'sphinx', 'hexo', 'mkdocs'];
const root = mkdtempSync(join(tmpdir(), 'pionero-learn-'));
const only = process.argv.slice(2).filter((each) => !each.startsWith('--'));
const kept = process.argv.find((each) => each.startsWith('--themes='))?.slice('--themes='.length);
const isVerbose = process.argv.includes('--verbose');
const share = (count, of) => (of === 0 ? 'none to judge' : `${count} of ${of} (${Math.round((count / of) * 100)} %)`);
const totals = { sound: 0, taken: 0, themes: 0, found: 0, mistakes: 0, wrong: 0, lines: 0 };
try {
  for (const host of NAMES.filter((each) => only.length === 0 || only.includes(each))) learnHost(host);
  console.log(
    `all: taken ${share(totals.taken, totals.themes)}, aim ${AIMS.taken * 100} %; mistakes found ${share(totals.found, totals.mistakes)}, aim ${AIMS.found * 100} %; ` +
      `lines that say otherwise ${share(totals.wrong, totals.lines)}, aim at most ${AIMS.wrong * 100} %`,
  );
} finally {
  rmSync(root, { recursive: true, force: true });
}
const isReached =
  totals.taken >= AIMS.taken * totals.themes && totals.found >= AIMS.found * totals.mistakes && totals.wrong <= AIMS.wrong * totals.lines;
process.exitCode = isReached ? 0 : 1;

function learnHost(host) {
  const shelf = join(kept ?? root, host, 'themes');
  const isFetched = existsSync(shelf);
  mkdirSync(shelf, { recursive: true });
  for (const folder of isFetched ? [] : packagedThemes(host, root))
    cpSync(folder, join(shelf, basename(folder)), { recursive: true, verbatimSymlinks: true, force: false });
  const shipped = shippedPlatforms().find(({ contract }) => contract.name === host);
  const themes = new DiskTree(shelf).entries
    .filter(({ path, kind }) => kind === 'folder' && !path.includes('/'))
    .map(({ path }) => ({ id: path, tree: new DiskTree(join(shelf, path)) }));
  const documents = shipped.contract.documents.filter(({ path }) => !path.includes('{'));
  const common = commonTo(themes, documents);
  const isTemplate = (path) => /\.(?:html|ejs|njk|swig)$/.test(path);
  const kinds = new Map();
  const mine = { sound: 0, taken: 0, themes: 0, found: 0, mistakes: 0, wrong: 0, lines: 0 };
  const started = process.cpuUsage();
  let drafting = 0;
  for (let fold = 0; fold < FOLDS; fold++) {
    const others = themes.filter((_, i) => i % FOLDS === fold);
    const before = process.cpuUsage();
    const { platform, text } = draft(
      themes.filter((theme) => !others.includes(theme)),
      shelf,
    );
    drafting = Math.max(drafting, process.cpuUsage(before).user / 1e6);
    if (isVerbose && fold === 0) console.log(text);
    const refused = new Map(judgeThemes(platform, others, [shelf]).map((each) => [each.id, each]));
    for (const theme of others) {
      mine.themes += 1;
      const refusal = refused.get(theme.id);
      if (refusal === undefined) mine.taken += 1;
      else if (isVerbose)
        console.log(
          `  refused ${theme.id}: ${
            refusal.missing ??
            refusal.findings
              .map(({ rule, message }) => `${rule} ${message}`)
              .slice(0, 3)
              .join('; ')
          }`,
        );
      const sound = errorsOf(platform, theme, shelf);
      // Mistakes that are a theme’s own, check reports with either file.
      const own = errorsOf(shipped, theme, shelf, true);
      const all = errorsOf(platform, theme, shelf, true).filter((error) => !own.some((each) => each.split(' ')[0] === error.split(' ')[0]));
      if (all.length === 0) mine.sound += 1;
      else if (isVerbose && refusal === undefined) console.log(`  check says more of ${theme.id}: ${all.slice(0, 2).join('; ')}`);
      for (const [kind, tree, what] of mistakesIn(theme, common, documents, isTemplate)) {
        if (tree === undefined) continue;
        const isFound = errorsOf(platform, { ...theme, tree }, shelf).some((error) => !sound.includes(error));
        const count = kinds.get(kind) ?? { found: 0, of: 0 };
        kinds.set(kind, { found: count.found + isFound, of: count.of + 1 });
        mine.found += isFound;
        mine.mistakes += 1;
        if (isVerbose && !isFound) console.log(`  missed in ${theme.id}: ${kind}, ${what}`);
      }
    }
  }
  const { platform } = draft(themes, shelf);
  const wrong = otherwise(platform.contract, shipped.contract);
  mine.wrong = wrong.length;
  mine.lines = linesOf(platform.contract);
  if (wrong.length > 0) console.log(`  otherwise than the shipped file: ${wrong.join('; ')}`);
  for (const key of Object.keys(totals)) totals[key] += mine[key];
  console.log(
    `${host}, ${themes.length} of its themes: taken ${share(mine.taken, mine.themes)}, and free of errors that the shipped file does not report ${mine.sound}; found ${share(mine.found, mine.mistakes)} ` +
      `(${[...kinds].map(([kind, { found, of }]) => `${kind} ${found}/${of}`).join(', ')}); lines otherwise ${share(mine.wrong, mine.lines)}; ` +
      `drafting took at most ${drafting.toFixed(1)} s of processor time, all ${(process.cpuUsage(started).user / 1e6).toFixed(0)} s; ${Math.round(process.resourceUsage().maxRSS / 1024)} MiB`,
  );
}

function draft(themes, shelf) {
  return draftPlatform({
    themes,
    wishes: { name: 'learned' },
    folderName: 'themes',
    file: 'learned.platform.yaml',
    folder: root,
    shelves: [shelf],
  });
}

function errorsOf(platform, { id, tree }, shelf, isOfAll = false) {
  const missing = judgeThemes(platform, [{ id, tree }], [shelf]).flatMap((each) => each.missing ?? []);
  const shelves = new Shelves(platform, [shelf]);
  const theme = new Theme(platform, tree, { id }, id);
  const { findings } = checkTheme(theme, openChain(theme, shelves), shelves, {
    rules: RULES.filter(({ meta }) => isOfAll || !/^(?:asset|text|license)\//.test(meta.id)),
    isForErrors: true,
  });
  return [
    ...missing,
    ...findings.filter(({ severity }) => severity === 'error').map(({ rule, file, message }) => `${rule} ${file} ${message}`),
  ];
}

/** Lines of a learned file that the shipped one contradicts: a field that is required and need not be, or of another type; a file likewise. */
function otherwise(learned, shipped) {
  const keyOf = ({ key }) => [key].flat().join('.');
  return [
    ...learned.documents.flatMap((document) => {
      const own = shipped.documents.find(({ path }) => path === document.path);
      if (own === undefined) return document.required === 'always' ? [`${document.path} should not be a document`] : [];
      return document.fields.flatMap((field) => {
        const same = own.fields.find((each) => keyOf(each) === keyOf(field));
        if (same === undefined) return [];
        const isStricter = field.required === 'always' && same.required === 'no';
        const isOther = field.type !== 'text' && same.type !== field.type && !(same.type === 'text' && same.shape === undefined);
        return [
          ...(isStricter ? [`${keyOf(field)} is required`] : []),
          ...(isOther ? [`${keyOf(field)} is ${field.type}, not ${same.type}`] : []),
        ];
      });
    }),
    ...learned.files.flatMap(({ path, required }) => {
      const same = shipped.files.find((each) => each.path === path);
      return required === 'always' && same?.required === 'no' ? [`${path} is required`] : [];
    }),
  ];
}

function linesOf({ documents, files, images, templates, recognise }) {
  return (
    recognise.length +
    documents.reduce((sum, { fields }) => sum + 1 + fields.length, 0) +
    files.length +
    images.length +
    (templates === undefined ? 0 : templates.files.length + Object.keys(templates.roles).length + 1)
  );
}
