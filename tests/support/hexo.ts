import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { afterAll } from 'vitest';
import { NEEDS, NPM_HOSTS } from '../../scripts/needs.mjs';
import { whatIsThere, type Built } from './what-is-there.ts';
import { writeFiles, type Place } from './trees.ts';

const post = (hut: string, day: number): string =>
  `---\ntitle: ${hut}\ndate: 2026-11-0${day}\ntags: [huts]\ncategories: [League]\n---\nThe hut of ${hut} has forty beds.\n\n<!-- more -->\n\n    print("Lumbre")\n`;

/** A blog of the hut league, whose themes are in themes/. */
export function prepareBlog(place: Place): void {
  mkdirSync(place.path('blog/themes'), { recursive: true });
  const names = (NEEDS.hexo.npm ?? []).map((each) => each.replace(/@.*/, ''));
  writeFiles(place.path('blog'), {
    'package.json': JSON.stringify({ private: true, hexo: {}, dependencies: Object.fromEntries(names.map((name) => [name, '*'])) }),
    '_config.yml': 'title: Albar Hut League\nauthor: Albar Hut League\nurl: https://albar.example\n',
    'source/_posts/cierzo.md': post('Cierzo', 1),
    'source/_posts/lumbre.md': post('Lumbre', 2),
    'source/way/index.md': '---\ntitle: The way\n---\nFrom hut to hut.\n',
  });
  symlinkSync(join(NPM_HOSTS, 'node_modules'), place.path('blog/node_modules'));
}

/** The real builder of blogs, started once. */
export interface BlogBuilder {
  /** A program that takes what the builder’s own takes, and has it built. */
  readonly program: string;
  readonly isReady: Promise<unknown>;
  /** Builds the blog with a theme. */
  build(place: Place, theme: string): Built;
}

export function startBlogBuilder(place: Place): BlogBuilder {
  const [socket, program, script] = [place.path('socket'), place.path('hexo'), join(import.meta.dirname, 'hexo-builder.cjs')];
  writeFileSync(program, `#!/bin/sh\nexec "${process.execPath}" "${script}" ask "${socket}" "$@"\n`, { mode: 0o755 });
  const builder = spawn(process.execPath, [script, 'serve', socket, NPM_HOSTS], { stdio: ['ignore', 'pipe', 'inherit'] });
  afterAll(() => void builder.kill());
  return {
    program,
    isReady: once(builder.stdout, 'data'),
    build(site, theme) {
      const [blog, out] = [site.path('blog'), site.path('built', theme)];
      for (const old of ['db.json', ...readdirSync(blog).filter((name) => name.startsWith('_multiconfig'))])
        rmSync(join(blog, old), { force: true });
      writeFiles(blog, { 'run.yml': `theme: ${theme}\npublic_dir: ${out}\n` });
      const { status, stderr } = spawnSync(program, ['generate', '--config', '_config.yml,run.yml'], { cwd: blog, encoding: 'utf8' });
      const said = stripVTControlCharacters(stderr).replace(/^INFO .*\n/gm, '');
      return whatIsThere(site, out, { status, stderr: said }, '');
    },
  };
}
