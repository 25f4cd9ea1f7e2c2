import { matchesAny } from '../../files/glob.ts';
import { folderOf, pathBelow, resolveInTree } from '../../files/file-tree.ts';
import { pathOfAddress, servedAt, sourcesOf } from '../../contents/serving.ts';
import type { SourceDocument } from '../../text/source-document.ts';
import { FileNames, fileNamesOf } from '../../contents/file-names.ts';
import { mentionsOf, referencesIn, type Reference } from '../../contents/references.ts';
import { advices, adviseMeant, adviseToTake } from '../advice.ts';
import { fixOf, type Fix, type Report, type Rule } from '../rule.ts';
import { shapePattern } from '../../names/shape.ts';
import { searchTemplate } from '../../templates/template-index.ts';
import { addressInto, outsideOf, type Outside } from '../../contents/outside.ts';
import { templatesOf, type PlacedTemplate } from '../../contents/templates.ts';
import type { Shelves } from '../../theme/shelf.ts';
import type { Theme } from '../../theme/theme.ts';
import { parentWith, type Chain } from '../../theme/chain.ts';

const advise = advices({
  'add-or-readdress': 'add it to the theme, or change the address',
  'add-path-or-readdress': 'add {path}, or change the address',
  'address-parents': 'address the one of {id}: {to}',
  'add-source': 'add {path}, or {from}, of which it is made',
  'put-before': 'put “{text}” before it',
});

/** Addresses in stylesheets and templates that no file of the theme answers to. */
export const assetMissing: Rule = {
  meta: {
    id: 'asset/missing',
    severity: 'error',
    isOfOneFile: true,
    isSeen: true,
    summary: 'A stylesheet or template refers to a file that is not there',
    why: 'A browser asks for the file at every visit and gets an error; the page shows without it.',
    messages: {
      missing: '“{target}” does not exist',
      case: '“{target}” is called “{near}”: case counts on most servers',
      elsewhere: '“{target}” does not exist: {id} has no {path}',
      stranger: '“{target}” leads into {id}, which is not a theme here',
      misplaced: '“{target}” is not served: what lies in {folder}/ is {as}/ in pages',
      relative: '“{target}” starts from the address of the page, not from the theme',
    },
    example: {
      platform: 'vereda',
      wrong: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\nbody { background: url("pictures/Ridge.svg"); }\n',
        'pictures/ridge.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
      },
      right: {
        'sheet.css': '/*---\ntitle: Cierzo\nversion: 1.0.0\nhosts: ">=2"\n---*/\nbody { background: url("pictures/ridge.svg"); }\n',
        'pictures/ridge.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
      },
    },
  },
  *check({ theme, chain, shelves, once }) {
    const { addresses } = theme.platform.contract.assets;
    const here: Here = { chain, shelves, files: once(fileNamesOf) };
    for (const placed of addresses.length === 0 ? [] : templatesOf(theme)) yield* judgeAddresses(theme, here, placed, addresses);
    for (const { path, source, reference, folder } of mentionsOf(chain))
      yield* judge(here, path, source, reference, folder, reference.target, true);
  },
  *checkText(source, { theme, chain, shelves, once }) {
    const root = theme.platform.contract.assets['theme-root'];
    const here: Here = { chain, shelves, files: once(fileNamesOf) };
    const missing = new Set<string>();
    for (const { reference, path, isSheet } of referencesIn(theme, source)) {
      const { target } = reference;
      const reports = isSheet
        ? judge(here, path, source, reference, folderOf(path), target)
        : root !== undefined && target.startsWith(root)
          ? judge(here, path, source, reference, '', target.slice(root.length))
          : root !== undefined && isLocal(target)
            ? [relativeAddress(chain, path, source, reference, root)]
            : [];
      for (const report of reports) {
        // A file that one text asks for again and again, with queries of all kinds, is missing once.
        const asked = `${path}\0${target.replace(/[?#].*$/s, '')}`;
        if (report.message !== 'missing' || !missing.has(asked)) yield report;
        if (report.message === 'missing') missing.add(asked);
      }
    }
  },
};

/** What addresses are judged by. */
interface Here {
  readonly chain: Chain;
  readonly shelves: Shelves;
  readonly files: FileNames;
}

/**
 * Addresses that a function gives. Where folders are served under other names, what stands in its call is a path of the site, and the theme’s
 * below one of these names; elsewhere it is a path of the theme.
 */
function* judgeAddresses(theme: Theme, here: Here, placed: PlacedTemplate, shapes: readonly string[]): Generator<Report> {
  const { source, template, path: file } = placed;
  for (const match of shapes.flatMap((shape) => [...searchTemplate(template, source.text, shapePattern(shape))])) {
    const target = match.groups?.['path'] ?? '';
    const path = pathOfAddress(theme.platform, target);
    const start = match.index + match[0].lastIndexOf(target);
    const reference: Reference = { target: path, by: 'attribute', start, end: start + target.length };
    if (path.endsWith('/')) continue;
    if (path !== target || theme.platform.contract.assets.served.length === 0) yield* judge(here, file, source, reference, '', path, true);
    else yield* misplaced(theme, here, target, { file, source, reference });
  }
}

/** A path of the site at which nothing of the theme is served: its own, unless a file of the theme was meant. */
function* misplaced(
  theme: Theme,
  { chain }: Here,
  target: string,
  { file, source, reference }: { file: string; source: SourceDocument; reference: Reference },
): Generator<Report> {
  for (const { folder, as } of theme.platform.contract.assets.served) {
    const inFolder = pathBelow(folder, target) ?? target;
    if (inFolder === '' || !isServed(chain, `${folder}/${inFolder}`)) continue;
    const right = `${as}/${inFolder}`;
    const { start, end } = reference;
    const hint = advise('write', { value: right });
    // Without the folder in front it may be a path of the site's after all.
    const fix = fixOf(hint, pathBelow(folder, target) !== undefined, file, [{ start, end, text: right }]);
    yield { message: 'misplaced', args: { target, folder, as }, file, source, range: reference, hint, fix };
    return;
  }
}

/** Whether an address can only mean a file of the theme: no scheme, no host, no query alone, nothing computed. */
function isLocal(target: string): boolean {
  return target !== '' && !/^([a-z][a-z0-9+.-]*:|\/|#|\?)/i.test(target) && !target.includes('{{');
}

/** Whether the theme has a file or folder, inherits the file, or the file is made of one that is there. */
function isServed(chain: Chain, path: string): boolean {
  return servedAt(chain, path) !== undefined;
}

function* judge(
  here: Here,
  file: string,
  source: SourceDocument | undefined,
  reference: Reference,
  folder: string,
  target: string,
  isFromRoot = target !== reference.target,
): Generator<Report> {
  if (!isFromRoot && !isLocal(target)) return;
  if (target.includes('{{')) return;
  const { chain, files } = here;
  const address = decode(target.replace(/[?#].*$/s, ''));
  const resolved = resolveInTree(folder, address);
  const outside = resolved === undefined ? outsideOf(chain, here.shelves, folder, address) : undefined;
  if (outside !== undefined) {
    yield* judgeOutside(here, outside, target, { file, source, range: reference });
    return;
  }
  const [theme] = chain.themes;
  const path = resolved === undefined || theme === undefined ? resolved : pathOfAddress(theme.platform, resolved);
  if (path !== undefined && isServed(chain, path)) return;
  // A parent that is not here may have it.
  if (path !== undefined && chain.broken?.kind === 'missing' && matchesAny(path, theme?.platform.contract.inheritance.inherits ?? []))
    return;
  const sameButCase = path === undefined ? undefined : files.sameButCase(path);
  // It is there, and cannot be served: a link that leads out has a finding of its own.
  if (sameButCase !== undefined && sameButCase === path) return;
  const near = sameButCase ?? (path === undefined ? undefined : files.near(path, file));
  const parent = path === undefined ? undefined : parentWith(chain, path);
  const [made] = path === undefined || theme === undefined ? [] : sourcesOf(theme.platform, path);
  const at = { file, source, range: reference };
  if (sameButCase === undefined || path === undefined) {
    yield {
      ...at,
      message: 'missing',
      args: { target },
      hint: adviceOn({ target, path, parent, near, made }),
      fix:
        path === undefined || parent === undefined || theme === undefined ? undefined : readdress(theme, parent, path, at, folder, target),
    };
    return;
  }
  // Only letters' case differs, so the two have the same length and the written path can be fixed in place.
  const written = source?.text.slice(reference.start, reference.end) ?? '';
  const tail = commonTail(decode(target), path);
  const offset = reference.start + written.lastIndexOf(tail.written);
  yield {
    ...at,
    message: 'case',
    args: { target, near: sameButCase },
    hint: advise('write', { value: sameButCase.slice(sameButCase.length - tail.path.length) }),
    fix: written.endsWith(tail.written)
      ? {
          title: advise('write', { value: sameButCase }),
          isSafe: true,
          file,
          edits: [{ start: offset, end: offset + tail.written.length, text: sameButCase.slice(-tail.path.length) }],
        }
      : undefined,
  };
}

/** Leads an address into the theme that has the file; undefined where it is not written as a path from the theme or from its own folder. */
function readdress(
  { platform, names }: Theme,
  holder: Theme,
  path: string,
  { file, source, range }: { file: string; source: SourceDocument | undefined; range: Reference },
  folder: string,
  target: string,
): Fix | undefined {
  const written = source?.text.slice(range.start, range.end) ?? '';
  const root = platform.contract.assets['theme-root'];
  const isPath = file.endsWith('.css') || (root !== undefined && written.startsWith(root));
  if (!isPath || !written.endsWith(target)) return undefined;
  const rest = /[?#].*$/s.exec(target)?.[0] ?? '';
  const to = written.slice(0, written.length - target.length) + addressInto(holder, path, platform, names, folder) + rest;
  return fixOf(advise('address-parents', { id: holder.names.id, to }), false, file, [{ start: range.start, end: range.end, text: to }]);
}

/** The advice on a file that is not there; a parent that has it is the likelier answer than a name that is near. */
function adviceOn(about: {
  target: string;
  path?: string | undefined;
  parent?: Theme | undefined;
  near?: string | undefined;
  made?: string | undefined;
}) {
  const { target, path, parent, near, made } = about;
  if (parent !== undefined && path !== undefined) return adviseToTake(parent, path);
  if (near !== undefined) return adviseMeant(decode(target), near);
  if (made !== undefined) return advise('add-source', { path: path ?? target, from: made });
  return path === undefined ? advise('add-or-readdress') : advise('add-path-or-readdress', { path });
}

/** An address that leaves the theme: a theme at hand can be looked into, the host's other folders cannot. */
function* judgeOutside(
  { chain }: Here,
  outside: Outside,
  target: string,
  at: Pick<Report, 'file' | 'source' | 'range'>,
): Generator<Report> {
  // The theme has what stands after too many “../”.
  const tail = decode(target).replace(/^(?:\.{1,2}\/)+|[?#].*$/gs, '');
  const near = isServed(chain, tail) ? tail : undefined;
  const hint = near === undefined ? advise('add-or-readdress') : advise('did-you-mean', { near });
  if (outside.kind === 'host') {
    if (near !== undefined) yield { ...at, message: 'missing', args: { target }, hint };
  } else if (outside.kind === 'stranger')
    yield near === undefined
      ? { ...at, message: 'stranger', args: { target, id: outside.name }, hint: advise('put-on-shelf') }
      : { ...at, message: 'missing', args: { target }, hint };
  else if (!outside.isServed && outside.path !== '') {
    const { theme, path } = outside;
    const nearThere = new FileNames(theme).near(path);
    yield {
      ...at,
      message: 'elsewhere',
      args: { target, id: theme.names.id, path },
      hint: nearThere === undefined ? hint : advise('did-you-mean', { near: nearThere }),
    };
  }
}

/** The part after the last `../` or `./` of an address, which stands at the end of the resolved path too. */
function commonTail(target: string, path: string): { written: string; path: string } {
  const tail = target.replace(/^.*\.\.?\//s, '').replace(/^\//, '');
  return path.endsWith(tail) ? { written: tail, path: tail } : { written: '\0', path: '' };
}

function relativeAddress(chain: Chain, file: string, source: SourceDocument | undefined, reference: Reference, root: string): Report {
  const path = resolveInTree('', reference.target.replace(/[?#].*$/s, ''));
  const isThere = path !== undefined && isServed(chain, path);
  const { start } = reference;
  return {
    message: 'relative',
    args: { target: reference.target },
    file,
    source,
    range: reference,
    hint: advise('write', { value: `${root}${reference.target}` }),
    fix: isThere
      ? { title: advise('put-before', { text: root }), isSafe: true, file, edits: [{ start, end: start, text: root }] }
      : undefined,
  };
}

function decode(address: string): string {
  try {
    return decodeURIComponent(address);
  } catch {
    return address;
  }
}
