import { cpSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Workplace } from './program.ts';
import { describeSite } from './sites.ts';
import { writeFiles } from './trees.ts';

interface Mistake {
  readonly what: string;
  /** What is in the files: null removes one, and a text after + is added at its end. */
  readonly files: Readonly<Record<string, string | null>>;
  /** What the host does with it, as “npm run record” saw it. */
  readonly host: string;
}

/** A host that mistakes are shown to. */
export interface RealHost {
  readonly platform: string;
  /** Whether the host is not on this machine. */
  readonly isSkipped: boolean;
  /** Where the theme `lumbre` is in a place. */
  readonly home: string;
  /** The folder that its files are in, where it is one of them. */
  readonly folder?: string;
  /** Puts a site and a theme of the standard kit into a place. */
  readonly addTheme: (place: Workplace) => Promise<Workplace>;
  /** The site of docs/sites.md that a theme is tried on. */
  readonly site: string;
  /** Programs that the site's commands are started by in a test. */
  readonly programs?: () => Readonly<Record<string, string>>;
  /** What the host does with the theme. */
  readonly told: (place: Workplace) => string | Promise<string>;
}

/** Of what was recorded, one in so many is shown to the host at each run; all of it with “npm run record”. */
const [SHOWN, REHEARSED] = [3, 6];

/** Mistakes that were shown to a host once: it still does what was recorded, and check finds them all. */
export function describeMistakes({ platform, isSkipped, home, folder: files = home, site, programs, addTheme, told }: RealHost): void {
  const record = join(import.meta.dirname, `../hosts/${platform}-mistakes.json`);
  const mistakes = JSON.parse(readFileSync(record, 'utf8')) as Mistake[];
  const isRecording = process.env['RECORD_HOSTS'] !== undefined;
  const recorded: Mistake[] = [];
  afterAll(() => {
    if (isRecording && recorded.length === mistakes.length) writeFileSync(record, `${JSON.stringify(recorded, null, 2)}\n`);
  });

  // Made once, and copied for each mistake.
  const right = new Workplace(afterAll);
  beforeAll(async () => void (await addTheme(right)));

  const withMistake = (mistake: Mistake): Workplace => {
    const place = new Workplace();
    cpSync(right.folder, place.folder, { recursive: true, verbatimSymlinks: true });
    const folder = place.path(files);
    for (const [path, text] of Object.entries(mistake.files)) {
      if (text === null) rmSync(join(folder, path));
      else {
        const before = text.startsWith('+') && existsSync(join(folder, path)) ? readFileSync(join(folder, path), 'utf8') : '';
        writeFiles(folder, { [path]: text.startsWith('+') ? before + text.slice(1) : text });
      }
    }
    return place;
  };

  describe('mistakes', () => {
    const some = (all: readonly Mistake[], one: number) =>
      all.filter((_mistake, i) => isRecording || i % one === 0).map((mistake) => [mistake.what, mistake] as const);
    it.each(some(mistakes, SHOWN))(
      '%s: does what was recorded',
      async (_what, mistake) => {
        if (isSkipped) return;
        const host = await told(withMistake(mistake));
        recorded.push({ ...mistake, host });
        expect(host).toBe(isRecording ? host : mistake.host);
      },
      30_000,
    );

    // What the host says nothing of, nobody can see on its pages.
    const seen = mistakes.filter(({ host }) => host !== 'is silent');
    it.skipIf(isSkipped).each(some(seen, REHEARSED))(
      '%s: is seen on a site',
      async (_what, mistake) => {
        const place = withMistake(mistake);
        describeSite(place, site, programs?.());
        const outcome = await place.run('rehearse', home, '--site', site, '--platform', platform, '--yes');
        expect([outcome.status, outcome.stderr, outcome.stdout]).toEqual([1, '', expect.stringMatching(/✗ lumbre on the site/)]);
      },
      30_000,
    );

    it('are all found by check', async () => {
      const found: string[] = [];
      for (const mistake of mistakes) {
        const place = withMistake(mistake);
        const report = (await place.json('check', home, '--platform', platform, '--no-cache')) as {
          findings: { rule: string; severity: string }[];
        };
        if (report.findings.some(({ severity, rule }) => severity !== 'note' && rule !== 'image/missing')) found.push(mistake.what);
      }
      expect(mistakes.length).toBeGreaterThanOrEqual(20);
      expect(mistakes.map(({ what }) => what).filter((what) => !found.includes(what))).toEqual([]);
    }, 60_000);
  });
}
