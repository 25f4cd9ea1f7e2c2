import { describe, expect, it } from 'vitest';
import { ConfigurationError } from '../../src/core/errors.ts';
import { forEachConcurrently } from '../../src/core/changes/concurrently.ts';
import { findAcceptances } from '../../src/core/rules/acceptances/acceptances.ts';
import { beyondBaseline, EMPTY_BASELINE, readBaseline, withFindings } from '../../src/core/rules/engine/baseline.ts';
import type { Finding } from '../../src/core/rules/engine/check.ts';
import { SourceDocument } from '../../src/core/text/source-document.ts';
import { platformNamed, themeOf } from '../support/trees.ts';

const NO_FILE = { file: '/pionero.yaml', source: SourceDocument.fromText('pionero.yaml', '') };

const finding = (rule: string, file: string, line: number): Finding => ({
  rule,
  file,
  line,
  column: 1,
  severity: 'error',
  message: 'x',
  why: 'y',
  code: 'a',
  args: {},
  isSeen: false,
  isRefusal: false,
  length: 0,
});

describe('an acceptance', () => {
  /** Which lines it accepts `asset/missing` in. */
  const accepted = (file: string, text: string, configured: Parameters<typeof findAcceptances>[1] = []) => {
    const theme = themeOf(platformNamed('vereda'), 'paso', { [file]: text });
    const all = findAcceptances(theme, configured);
    return [1, 2, 3, 4].filter((line) => all.some((each) => each.accepts(finding('asset/missing', file, line))));
  };

  it.each([
    ['a.css', '/* pionero-accept asset/missing: made later */\np {}\n', [1, 2]],
    ['a.css', 'p {} /* pionero-accept asset/missing: made later */\np {}\n', [1]],
    ['a.css', '/* pionero-accept asset/missing: made later */\n\n\np {}\n', [1, 4]],
    ['a.html', '<!-- pionero-accept asset/missing: made later -->\n<p>\n', [1, 2]],
    ['a.html', '{{! pionero-accept asset/missing: made later }}\n<p>\n', [1, 2]],
    ['a.php', '<?php\n# pionero-accept asset/missing: made later\nx();\n', [2, 3]],
    ['a.js', 'x(); // pionero-accept asset/missing: made later\n', [1]],
    ['a.yaml', '# pionero-accept asset/missing: made later\na: b\n', [1, 2]],
    ['a.css', '/* pionero-accept asset/missing */\np {}\n', []],
    ['a.css', '/* pionero-accept asset/missing:   */\np {}\n', []],
    ['a.css', '/* pionero-accept asset/remote: made later */\np {}\n', []],
    ['a.bin', 'pionero-accept asset/missing: made later\n', []],
  ])('in %s: %j holds for the lines %j', (file, text, lines) => {
    expect(accepted(file, text)).toEqual(lines);
  });

  it.each([
    ['a.css', [1, 2, 3, 4]],
    ['*.css', [1, 2, 3, 4]],
    ['styles/**', []],
  ])('of the configuration for %s', (file, lines) => {
    expect(accepted('a.css', 'p {}\n', [{ rule: 'asset/missing', file, reason: 'made later', index: 0, of: NO_FILE }])).toEqual(lines);
  });
});

describe('a baseline', () => {
  const known = [finding('a/b', 'x.css', 1), finding('a/b', 'x.css', 9), finding('c/d', 'y.css', 2)];
  const baseline = withFindings(EMPTY_BASELINE, 'paso', known);
  const beyond = (...findings: Finding[]) => beyondBaseline(baseline, 'paso', findings).map(({ rule, line }) => `${rule}:${line}`);

  it('knows what was there, wherever it moved to', () => {
    expect(beyond(...known)).toEqual([]);
    expect(beyond(finding('a/b', 'x.css', 100))).toEqual([]);
  });

  it('does not know what comes on top, in another file, of another rule, or of another theme', () => {
    expect(beyond(...known, finding('a/b', 'x.css', 12))).toEqual(['a/b:12']);
    expect(beyond(finding('a/b', 'z.css', 1))).toEqual(['a/b:1']);
    expect(beyond(finding('e/f', 'x.css', 1))).toEqual(['e/f:1']);
    expect(beyondBaseline(baseline, 'lumbre', known)).toEqual(known);
  });

  it('is read as it was written, and nothing else is', () => {
    expect(readBaseline(JSON.stringify(baseline), 'b.json')).toEqual(baseline);
    for (const wrong of ['', '[]', '{}', '{"pionero":"baseline/2","themes":{}}', '{"pionero":"baseline/1","themes":{"a":{"b":0}}}'])
      expect(() => readBaseline(wrong, 'b.json')).toThrow(ConfigurationError);
  });
});

describe('work that is done for several at a time', () => {
  it('is done once for each, and never for more at once than allowed', async () => {
    const done: number[] = [];
    let running = 0;
    let most = 0;
    await forEachConcurrently(
      Array.from({ length: 50 }, (_, i) => i),
      4,
      async (i) => {
        most = Math.max(most, ++running);
        await new Promise((resolve) => setTimeout(resolve, i % 3));
        done.push(i);
        running--;
      },
    );
    expect(done.sort((a, b) => a - b)).toEqual(Array.from({ length: 50 }, (_, i) => i));
    expect(most).toBe(4);
  });

  it('begins nothing new after a failure, and ends what is under way before it tells', async () => {
    let running = 0;
    let begun = 0;
    const work = forEachConcurrently([1, 2, 3, 4, 5, 6, 7, 8], 3, async (i) => {
      begun++;
      running++;
      await new Promise((resolve) => setTimeout(resolve, i));
      running--;
      if (i === 2) throw new Error('the second');
    });
    await expect(work).rejects.toThrow('the second');
    expect(running).toBe(0);
    expect(begun).toBeLessThan(8);
  });

  it('of nothing is nothing', async () => {
    await expect(forEachConcurrently([], 4, async () => Promise.reject(new Error('x')))).resolves.toBeUndefined();
  });
});
