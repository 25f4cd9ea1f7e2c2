import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { DiskTree } from '../../src/core/files/disk-tree.ts';
import type { SampleTheme } from '../../src/core/learning/theme-set.ts';

/** Themes of a host that nobody has described: the notice boards of huts, with a language of templates of its own. */
export const HUTS = 'albar cierzo lumbre neveron paso quilla norte laura frisch cumbre arista collado umbria solana refugio ventana'.split(
  ' ',
);

/** What a board holds, by path; a change puts other texts in their place, or takes files out with undefined. */
export function boardFiles(id: string, i: number): Record<string, string> {
  const base = i % 4 === 3 ? (HUTS[i - 1] ?? '') : 'ground';
  return {
    'board.desc': [
      '# A notice board.',
      '[board]',
      `code = ${id}`,
      `title = ${id.charAt(0).toUpperCase()}${id.slice(1)}`,
      ...(i % 3 === 0 ? [`title[es] = ${id} es`, `title[de] = ${id} de`] : []),
      `version = 1.${i}.0`,
      `base = ${base}`,
      `width = ${900 + i * 10}`,
      `ink = #33669${i % 10}`,
      `lit = ${i % 2 === 0 ? 'yes' : 'no'}`,
      `mood = ${['calm', 'storm', 'snow'][i % 3]}`,
      'picture = art/cover.svg',
      ...(i % 7 === 0 ? ['whim = 4'] : []),
      '',
    ].join('\n'),
    [`${id}.sheet`]: 'p { color: red }\n',
    'art/cover.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>\n',
    'sheets/front.tpl': `<h1>{$ title }</h1>{take "pieces/head.tpl"}{when lit}<p>{$ text }</p>{/when}{each notes}<i>{$ it }</i>{/each}\n`,
    'sheets/note.tpl': `{take "pieces/head.tpl"}{when lit}<p class="${id}">{$ text }</p>{/when}\n`,
    'pieces/head.tpl': '<header>{$ title }</header>\n',
    'README.md': `${id}\n`,
    ...(i % 5 === 0 ? { 'package.json': '{}' } : {}),
  };
}

/** Writes boards into a folder, and opens them. */
export function makeBoards(
  folder: string,
  ids: readonly string[] = HUTS,
  change: (id: string, files: Record<string, string>) => Record<string, string | undefined> = (_id, files) => files,
): SampleTheme[] {
  return ids.map((id) => {
    const files = change(id, boardFiles(id, HUTS.indexOf(id.replace(/-sur$/, ''))));
    for (const [path, text] of Object.entries(files)) {
      if (text === undefined) continue;
      mkdirSync(dirname(join(folder, id, path)), { recursive: true });
      writeFileSync(join(folder, id, path), text);
    }
    return { id, tree: new DiskTree(join(folder, id)) };
  });
}
