import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { startPythonHost, type PythonHost } from './python-host.ts';
import { whatIsThere, type Built } from './what-is-there.ts';
import { writeFiles, type Place } from './trees.ts';

const page = (hut: string): string => `# ${hut}\n\nThe hut of ${hut} has forty beds.\n\n## Way\n\n    print("Lumbre")\n`;

/** Tells Python of the themes in a folder, as docs/mkdocs.md shows it. */
const register = (): string => /```python\n([^]*?)```/.exec(readFileSync('docs/mkdocs.md', 'utf8'))?.[1] ?? '';

/** A site of the hut league, whose themes are in themes/. */
export function prepareManual(place: Place): void {
  mkdirSync(place.path('manual/themes'), { recursive: true });
  writeFiles(place.path('manual'), {
    'docs/index.md': page('Cierzo'),
    'docs/lumbre.md': page('Lumbre'),
    'mkdocs.yml': 'site_name: Albar Hut League\nsite_url: https://albar.example/\n',
    'register.py': register(),
  });
}

/** The real builder, started once. */
export interface ManualBuilder extends PythonHost {
  /** Builds the site with a theme; `packages` is a folder with installed ones. */
  build(place: Place, theme: string, packages?: string): Built;
}

export function startManualBuilder(place: Place): ManualBuilder {
  const host = startPythonHost('mkdocs', place);
  return {
    ...host,
    build(site, theme, packages) {
      const out = site.path('built', theme);
      const themes = site.path('manual/themes');
      const points = readdirSync(themes)
        .filter((name) => !name.includes('.'))
        .map((name) => `${name} = ${name}\n`);
      if (packages === undefined)
        writeFiles(`${themes}/huts.dist-info`, {
          METADATA: 'Metadata-Version: 2.1\nName: huts\nVersion: 1\n',
          'entry_points.txt': `[mkdocs.themes]\n${points.join('')}`,
        });
      const env = { ...process.env, PYTHONPATH: packages === undefined ? themes : site.path(packages) };
      const ended = spawnSync(host.program, ['build', '-c', '-t', theme, '-d', out], {
        cwd: site.path('manual'),
        env,
        encoding: 'utf8',
      });
      const stderr = ended.stderr.replace(/^INFO .*\n/gm, '');
      return whatIsThere(site, out, { ...ended, stderr }, '');
    },
  };
}
