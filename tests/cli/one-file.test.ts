import { appendFileSync, existsSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { fillPlace, isOneFile } from '../../src/core/theme/place.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const ONE_FILE = shippedPlatforms().filter((platform) => isOneFile(platform) && platform.contract.inheritance.kind !== 'none');

describe.each(ONE_FILE.map((platform) => [platform.contract.name, platform] as const))(
  'themes of %s, each a file beside others',
  (name, platform) => {
    const at = (id: string): string => `themes/${fillPlace(platform, { id })}`;
    const family = async (configuration = '') => {
      const place = new Workplace();
      writeFiles(place.folder, { 'themes/pionero.yaml': `platform: ${name}\n${configuration}`, 'dist/.keep': '' });
      const where = ['--to', 'themes', '--shelf', 'themes', '--yes'];
      await place.run('new', 'albar', '--platform', name, '--kit', 'standard', ...where);
      await place.run('new', 'cierzo', '--platform', name, '--kit', 'child', '--parent', 'albar', ...where);
      return place;
    };

    it('are packed with their parents', async () => {
      const place = await family();
      const packed = await place.run('pack', at('cierzo'), '--with-parents', '--out', 'dist', '--yes');
      expect([packed.status, packed.stderr]).toEqual([0, '']);
      expect(['albar', 'cierzo'].map((id) => existsSync(place.path(`dist/${id}.zip`)))).toEqual([true, true]);
    });

    it('have findings accepted in the configuration beside them, by their places, and none that is about another', async () => {
      const place = await family(
        `accept:\n  - { rule: text/conflict, file: "**", theme: [${fillPlace(platform, { id: 'cierzo' })}], reason: not decided yet }\n`,
      );
      for (const id of ['albar', 'cierzo']) await place.run('check', at(id));
      const found = async () =>
        ((await place.json('check', 'themes'))['findings'] as { rule: string; path: string }[]).map(({ rule, path }) => `${rule} ${path}`);
      const unused = await found();
      expect(unused).toEqual(['accept/unused themes/pionero.yaml']);
      appendFileSync(place.path(at('cierzo')), '\n<<<<<<< huts\na\n=======\nb\n>>>>>>> norte\n');
      expect((await found()).filter((each) => /conflict|accept/.test(each))).toEqual([]);
    });
  },
);
