// Made-up packages of all shipped platforms, many of them with one mistake each: what a check has to find in them is known.
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { chooseKit, planNewTheme, RULES, Shelves, shippedPlatforms } from '../dist/core.js';

const ID = 'cierzo';
const INTO = '/nowhere';

/** The files of a new theme, and where it lies on a shelf. */
function newTheme(platform, kitName) {
  const kit = chooseKit({ platform }, kitName, false);
  const vendor = platform.contract.vendor === undefined ? undefined : 'HutLeague';
  const made = planNewTheme({ platform, kit, id: ID, vendor, facts: {}, shelves: new Shelves(platform, []), into: INTO });
  const { tree } = made.theme;
  const files = new Map(tree.entries.flatMap(({ kind, path }) => (kind === 'file' ? [[path, tree.read(path)]] : [])));
  const place = relative(INTO, made.plan.root);
  // Where a theme is one file, its place is that file's.
  return { place: files.has(place) ? '' : place, files };
}

/**
 * Makes so many packages, each on a shelf of its own below a folder.
 * @returns for each its folder, and the rule that finds the mistake in it; null where it has none
 */
export function makePackages(root, count) {
  const platforms = shippedPlatforms();
  const kits = ['bare', 'standard'].flatMap((kit) => platforms.map((platform) => ({ rule: null, ...newTheme(platform, kit) })));
  const bare = new Map(platforms.map((platform) => [platform.contract.name, newTheme(platform, 'bare')]));
  const wrong = RULES.flatMap(({ meta: { id, example } }) => {
    if ('none' in example || example.siblings !== undefined) return [];
    const { place, files } = bare.get(example.platform);
    const laid = new Map(files);
    for (const [path, content] of Object.entries(example.wrong)) {
      if (content === null) laid.delete(path);
      else laid.set(path, content);
    }
    return [{ rule: id, place, files: laid }];
  });
  return Array.from({ length: count }, (_, i) => {
    const { rule, place, files } = i % 2 === 0 ? kits[(i / 2) % kits.length] : wrong[((i - 1) / 2) % wrong.length];
    const shelf = join(root, `shelf-${String(Math.floor(i / 100)).padStart(4, '0')}`, `hut-${String(i).padStart(6, '0')}`);
    for (const [path, content] of files) {
      const file = join(shelf, place, path);
      mkdirSync(dirname(file), { recursive: true });
      writeFileSync(file, content);
    }
    return { folder: join(shelf, place === '' ? [...files.keys()][0] : place), rule };
  });
}
