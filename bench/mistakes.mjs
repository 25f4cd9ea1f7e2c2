// One mistake at a time, made in a theme that the host takes: what a platform file that was learned has to find.
import { findSyntax } from '../dist/core.js';

/** A theme’s files with one of them changed, or without it. */
class ChangedTree {
  constructor(tree, path, text) {
    this.tree = tree;
    this.path = path;
    this.bytes = text === undefined ? undefined : Buffer.from(text);
    this.entries = tree.entries.flatMap((entry) =>
      entry.path !== path ? [entry] : text === undefined ? [] : [{ ...entry, size: this.bytes.length }],
    );
  }
  get(path) {
    return path !== this.path ? this.tree.get(path) : this.entries.find((entry) => entry.path === path);
  }
  read(path) {
    if (path !== this.path) return this.tree.read(path);
    if (this.bytes === undefined) throw new Error('taken out');
    return this.bytes;
  }
  *parts(path) {
    yield this.read(path);
  }
  tail(path, length) {
    return this.read(path).subarray(-length);
  }
}

const textOf = (tree, path) => tree.read(path).toString('utf8');
const isFile = (tree, path) => tree.get(path)?.kind === 'file';

/** The values in the documents of a theme, by key; the shipped file says how they are read. */
function saidBy({ tree }, documents) {
  return documents.flatMap(({ path, syntax, options }) => {
    if (!isFile(tree, path)) return [];
    const text = textOf(tree, path);
    const { root } = findSyntax(syntax).read(text, options);
    const said = [];
    const follow = (map, above) => {
      for (const { key, value } of map?.entries ?? [])
        if (value.kind === 'map' && above.length < 1) follow(value, [...above, key]);
        else said.push({ path, syntax, options, key: [...above, key], value });
    };
    follow(root, []);
    return said;
  });
}

const shown = ({ value }) => (value.kind === 'scalar' ? String(value.value ?? '') : undefined);
const keyOf = ({ path, key }) => `${path}\0${key.join('\0')}`;

/** Whether the host may need a field: the shipped file does not say that it does not. */
function mayBeNeeded(documents, { path, key }) {
  const own = documents.find((each) => each.path === path)?.fields.find((field) => [field.key].flat().join('.') === key.join('.'));
  return own === undefined || own.required !== 'no';
}

/** What (nearly) all themes of a set have: keys, and what their values are; files. @param documents of the shipped platform file */
export function commonTo(themes, documents) {
  const keys = new Map();
  const files = new Map();
  for (const theme of themes) {
    for (const each of saidBy(theme, documents)) keys.set(keyOf(each), [...(keys.get(keyOf(each)) ?? []), { ...each, theme }]);
    for (const { path, kind } of theme.tree.entries) if (kind === 'file') files.set(path, (files.get(path) ?? 0) + 1);
  }
  const all = (list, holds) => list.filter(holds).length >= list.length * 0.97;
  const isCommon = (list) => list.length >= themes.length * 0.95;
  const kinds = new Map();
  for (const [key, list] of keys)
    kinds.set(key, {
      isCommon: isCommon(list) && mayBeNeeded(documents, list[0]),
      isOften: list.length >= themes.length * 0.6,
      isNumber: list.length > 4 && all(list, (each) => /^-?\d+(\.\d+)?$/.test(shown(each) ?? '')),
      isTruth: list.length > 4 && all(list, (each) => /^(true|false)$/i.test(shown(each) ?? '')),
      isId: list.length > 2 && all(list, (each) => shown(each) === each.theme.id),
      isPath: list.length > 2 && all(list, (each) => /\.\w+$/.test(shown(each) ?? '') && isFile(each.theme.tree, shown(each))),
    });
  return { kinds, files: new Set([...files].filter(([, count]) => count >= themes.length * 0.95).map(([path]) => path)) };
}

/** The mistakes that can be made in a theme: at most two of a kind, so that no theme counts for many. */
export function* mistakesIn(theme, common, documents, templates) {
  const { tree } = theme;
  const said = saidBy(theme, documents);
  const two = (list) => list.filter((_, i) => i === 0 || i === list.length - 1).slice(0, 2);
  const kindOf = (each) => common.kinds.get(keyOf(each)) ?? {};
  const context = ({ options }) => ({ options, order: [] });
  const edited = (each, edit) => {
    try {
      const text = textOf(tree, each.path);
      const edits = edit(findSyntax(each.syntax), text);
      let changed = text;
      for (const { start, end, text: into } of edits.toSorted((a, b) => b.start - a.start))
        changed = changed.slice(0, start) + into + changed.slice(end);
      return changed === text ? undefined : new ChangedTree(tree, each.path, changed);
    } catch {
      return undefined;
    }
  };
  const set = (each, value) => edited(each, (syntax, text) => syntax.set(text, each.key, value, context(each)));
  for (const each of two(said.filter((one) => kindOf(one).isCommon)))
    yield ['a field dropped', edited(each, (syntax, text) => syntax.remove(text, each.key, context(each))), each.key.join('.')];
  for (const path of two([...common.files].filter((one) => isFile(tree, one) && !/(?:^|\/)(?:readme|licen|copying|change|\.)/i.test(one))))
    yield ['a file dropped', new ChangedTree(tree, path, undefined), path];
  const often = said.filter((one) => kindOf(one).isOften);
  for (const each of two(often.filter((one) => kindOf(one).isNumber || kindOf(one).isTruth)))
    yield ['a value of another type', set(each, 'perhaps so'), each.key.join('.')];
  for (const each of two(often.filter((one) => kindOf(one).isPath)))
    yield ['a path to nothing', set(each, 'gone/away.css'), each.key.join('.')];
  for (const each of two(often.filter((one) => kindOf(one).isId)))
    yield ['the id wrong in one place', set(each, 'somebody'), each.key.join('.')];
  const paths = tree.entries.filter(({ path, kind }) => kind === 'file' && templates(path)).map(({ path }) => path);
  const includes = paths.flatMap((path) => {
    const match = /(\b(?:include|extends|partial|import)\b[\s(]*["'])([^"'\s{}]+)(["'])/.exec(textOf(tree, path));
    if (match === null) return [];
    const leads = tree.entries.some((entry) =>
      `/${entry.path.replace(/\.\w+$/, '')}`.endsWith(`/${match[2].replace(/^[./]+|\.\w+$/g, '')}`),
    );
    return leads ? [{ path, match }] : [];
  });
  for (const { path, match } of two(includes)) {
    const text = textOf(tree, path);
    const at = match.index + match[1].length;
    yield ['an include to nothing', new ChangedTree(tree, path, `${text.slice(0, at)}gone-away${text.slice(at + match[2].length)}`), path];
  }
  const closing = /\{%-?\s*end\w+\s*-?%\}|<%_?\s*\}\s*[_-]?%>|\{\{\/\w+\}\}/;
  for (const path of two(paths.filter((each) => closing.test(textOf(tree, each)))))
    yield ['an unclosed section', new ChangedTree(tree, path, textOf(tree, path).replace(closing, '')), path];
}
