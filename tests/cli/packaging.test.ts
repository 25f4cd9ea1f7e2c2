import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chmodSync, cpSync, existsSync, mkdirSync, readdirSync, readFileSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv } from 'ajv';
import { beforeAll, describe, expect, it } from 'vitest';
import { licenseText } from '../../src/core/licenses/license-texts.ts';
import { isTextOf, recogniseLicense } from '../../src/core/licenses/recognise-license.ts';
import { statedLicense } from '../../src/core/licenses/stated-license.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { need, runTool } from '../support/needs.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { snapshot, writeFiles } from '../support/trees.ts';

const SHELF = join(import.meta.dirname, '../../demo/shelf');
const HEADER = (more = '') =>
  `/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\nauthor: Albar Hut League\nsummary: The pass in winter.\n${more}---*/\n`;

/** A theme of the first platform, with more files. */
async function paso(files: Readonly<Record<string, string>> = {}): Promise<Workplace> {
  const place = new Workplace();
  await place.run('new', 'paso', '--platform', 'vereda', '--yes');
  writeFiles(place.path('paso'), files);
  return place;
}

interface Bill {
  readonly components: { name: string; version?: string; licenses?: unknown[]; evidence: { occurrences: { location: string }[] } }[];
  readonly metadata: { component: { version?: string; licenses?: unknown } };
}
const billIn = (folder: string): Bill => JSON.parse(readFileSync(join(folder, 'bom.cdx.json'), 'utf8')) as Bill;

describe('a submission', () => {
  let validate: (bill: unknown) => string;
  beforeAll(() => {
    const folder = fileURLToPath(new URL('../../node_modules/@cyclonedx/cyclonedx-library/res/schema', import.meta.url));
    const schema = (name: string): Record<string, unknown> => {
      const { $schema: _draft, $id: _id, ...rest } = JSON.parse(readFileSync(join(folder, name), 'utf8')) as Record<string, unknown>;
      return rest;
    };
    const ajv = new Ajv({ strict: false, validateFormats: false });
    ajv.addSchema(schema('spdx.SNAPSHOT.schema.json'), 'http://cyclonedx.org/schema/spdx.SNAPSHOT.schema.json');
    ajv.addSchema(schema('jsf-0.82.SNAPSHOT.schema.json'), 'http://cyclonedx.org/schema/jsf-0.82.SNAPSHOT.schema.json');
    const compiled = ajv.compile({ ...schema('bom-1.6.SNAPSHOT.schema.json'), $id: 'http://cyclonedx.org/schema/bom-1.6.schema.json' });
    validate = (bill) => (compiled(bill) ? 'valid' : ajv.errorsText(compiled.errors));
  });

  it.each(shippedPlatforms().map(({ contract }) => [contract.name, contract] as const))(
    'of a theme for %s is a folder with all that is asked for',
    async (name, { vendor, images }) => {
      const place = new Workplace();
      const vendors = vendor === undefined ? [] : ['--vendor', 'Huts'];
      expect(await place.run('new', 'lumbre', '--platform', name, '--yes', ...vendors)).toMatchObject({ status: 0 });
      const folder = [place.path('lumbre'), place.path('Huts/lumbre'), place.path('Huts/Lumbre')].find((each) => existsSync(each)) ?? '';
      const json = (await place.json('pack', folder, '--for', 'submission', '--out', 'sent', '--yes')) as unknown as {
        archive: string;
        proved: boolean;
        files: string[];
      };
      expect(json.proved).toBe(true);
      const pictures = images.filter(({ path }) => existsSync(join(folder, path))).map(({ path }) => path.split('/').at(-1));
      expect(new Set(readdirSync(place.path('sent')))).toEqual(
        new Set([json.archive, ...pictures, 'listing.md', 'bom.cdx.json', 'SHA256SUMS']),
      );
      const sumOf = (file: string): string =>
        createHash('sha256')
          .update(readFileSync(place.path('sent', file)))
          .digest('hex');
      const summed = json.files.filter((file) => file !== 'SHA256SUMS').map((file) => `${sumOf(file)}  ${file}\n`);
      expect(readFileSync(place.path('sent/SHA256SUMS'), 'utf8')).toBe(summed.join(''));
      expect(validate(billIn(place.path('sent')))).toBe('valid');
    },
  );

  it('lists what is by others, with licenses, and tells what has none', async () => {
    const place = await paso({
      'sheet.css': HEADER('license: MIT\n'),
      'CHANGELOG.md': '# Changes\n\n## 1.0.0\n\n- The first snow.\n\n## 0.9.0\n\n- Nothing.\n',
      'js/hut-slider.js': '/*! Hut Slider v2.1.0 | (c) 2020 Neveron Works | MIT License */\nvar a;\n',
      'js/own.js': '/*! Paso v1.0.0 | (c) Albar Hut League | MIT License */\nvar b;\n',
      'vendor/ridge/package.json': '{ "name": "ridge", "version": "3.0.1", "license": "(MIT OR Apache-2.0)" }',
      'vendor/ridge/dist/ridge.js': 'var c;\n',
      'vendor/bell.js': '/**\n * @preserve Bell 0.3\n * Released under the GPL, version 2 or later\n */\n',
      'vendor/lamp/composer.json': '{ "name": "lamp", "license": ["MIT", "GPL-2.0+"] }',
      'vendor/lamp/lamp.js': '',
      'vendor/snow.css': '/* SPDX-License-Identifier: BSD-3-Clause */\na {}\n',
      'third-party/fog.js': 'var d;\n',
      'lib/rope/LICENSE': licenseText('ISC') ?? '',
      'lib/rope/rope.js': 'var e;\n',
      // What builds the theme is the theme’s.
      'build/package.json': '{ "name": "paso-build", "version": "1.0.0" }',
      'build/build.js': 'var f;\n',
    });
    const json = (await place.json('pack', 'paso', '--for', 'submission', '--yes')) as unknown as {
      warnings: { rule: string; file: string }[];
    };
    expect(json.warnings.filter(({ rule }) => rule === 'license/unknown').map(({ file }) => file)).toEqual(['third-party/fog.js']);
    const { components, metadata } = billIn(place.path('paso-submission'));
    expect(metadata.component).toMatchObject({ name: 'paso', version: '1.0.0', licenses: [{ license: { id: 'MIT' } }] });
    expect(
      components.map(({ name, version, licenses, evidence }) => [name, version, JSON.stringify(licenses), evidence.occurrences.length]),
    ).toEqual([
      ['Bell', '0.3', '[{"license":{"id":"GPL-2.0-or-later"}}]', 1],
      ['Hut Slider', '2.1.0', '[{"license":{"id":"MIT"}}]', 1],
      ['fog.js', undefined, undefined, 1],
      ['lamp', undefined, '[{"expression":"MIT OR GPL-2.0+"}]', 2],
      ['ridge', '3.0.1', '[{"expression":"(MIT OR Apache-2.0)"}]', 2],
      ['rope', undefined, '[{"license":{"id":"ISC"}}]', 2],
      ['snow.css', undefined, '[{"license":{"id":"BSD-3-Clause"}}]', 1],
    ]);
    expect(validate(billIn(place.path('paso-submission')))).toBe('valid');
    const listing = readFileSync(place.path('paso-submission/listing.md'), 'utf8');
    expect(listing).toMatch(
      /^# Paso\n\nThe pass in winter\.\n[^]*\| Author \| Albar Hut League \|[^]*## What is new in 1\.0\.0\n\n- The first snow\.\n\n## By others/,
    );
    expect(listing).not.toContain('Nothing.');
  });

  it('takes the place of an earlier one and of nothing else, and comes back by undo', async () => {
    const place = await paso();
    expect(await place.run('pack', 'paso', '--for', 'submission', '--out', 'sent', '--yes')).toMatchObject({ status: 0 });
    const first = snapshot(place.path('sent'));
    writeFiles(place.path('paso'), { 'more.css': 'a { color: red }\n' });
    expect(await place.run('pack', 'paso', '--for', 'submission', '--out', 'sent', '--yes')).toMatchObject({ status: 0 });
    expect(snapshot(place.path('sent'))).not.toEqual(first);
    expect(await place.runIn('sent', 'undo', '--yes')).toMatchObject({ status: 0 });
    expect(snapshot(place.path('sent'))).toEqual(first);
    writeFiles(place.path('other'), { 'letter.txt': 'mine' });
    const refused = await place.run('pack', 'paso', '--for', 'submission', '--out', 'other', '--yes');
    expect([refused.status, refused.stderr]).toEqual([1, expect.stringContaining('more than an earlier submission')]);
    expect(readdirSync(place.path('other'))).toEqual(['letter.txt']);
    expect(await place.run('pack', 'paso', '--for', 'submission', '--out', 'paso.zip', '--yes')).toMatchObject({ status: 2 });
    expect(existsSync(place.path('paso.zip'))).toBe(false);
  });
});

describe('what a theme lacks', () => {
  it.each([
    ['license: MIT\n', /^MIT License\n\nCopyright \(c\) \d{4} Albar Hut League\n/, 'MIT'],
    ['license: BSD-3-Clause\n', /^Copyright \(c\) \d{4} Albar Hut League\.?\s*\n/, 'BSD-3-Clause'],
    // The license’s own notice is not ours to change.
    [
      'license: GPL-2.0-or-later\n',
      /GNU GENERAL PUBLIC LICENSE[^]*Copyright \(C\) 1989, 1991 Free Software Foundation/,
      'GPL-2.0-or-later',
    ],
    ['license: GPL-3.0-only\n', /Copyright © 2007 Free Software Foundation/, 'GPL-3.0-only'],
    ['license: 0BSD\n', /Copyright \(C\) \d{4} by Albar Hut League/, '0BSD'],
    ['license: Apache-2.0\n', /Copyright \d{4} Albar Hut League/, 'Apache-2.0'],
    // The text at hand names a holder of its own.
    ['license: ISC\n', undefined, 'ISC'],
    ['license: MIT OR Apache-2.0\n', undefined, 'MIT OR Apache-2.0'],
    ['', undefined, ''],
  ])('is written by --write, from what it says: %j', async (license, wanted, id) => {
    const place = await paso({ 'sheet.css': HEADER(license) });
    const { status, stdout } = await place.run('pack', 'paso', '--write', '--yes');
    expect(status).toBe(0);
    expect(readFileSync(place.path('paso/README.md'), 'utf8')).toMatch(
      /^# Paso\n\nThe pass in winter\.\n\n## What it needs\n\n- Vereda >=2\n\n## To install it\n\n1\. Upload paso\.zip under .*\n2\. Activate/,
    );
    expect(readFileSync(place.path('paso/CHANGELOG.md'), 'utf8')).toContain('## 1.0.0');
    const text = existsSync(place.path('paso/LICENSE.txt')) ? readFileSync(place.path('paso/LICENSE.txt'), 'utf8') : undefined;
    expect([stdout.includes('no license is written'), text === undefined, wanted?.test(text ?? '')]).toEqual([
      wanted === undefined,
      wanted === undefined,
      wanted === undefined ? undefined : true,
    ]);
    expect([text === undefined || isTextOf(text, id), /<owner>|<copyright|\[yyyy\]|YEAR/.test(text ?? '')]).toEqual([true, false]);
    expect(runTool('unzip', ['-Z1', place.path('paso.zip')]).stdout).toContain('paso/README.md');
    const checked = await place.run('check', 'paso');
    expect([checked.status, checked.stdout]).toEqual([0, expect.not.stringContaining('license/')]);
  });

  it('is not written without a yes, and never over what is there', async () => {
    const place = await paso({ 'README.md': '---\n---\nmine\n', 'sheet.css': HEADER('license: MIT\n') });
    const before = snapshot(place.folder);
    expect(await place.run('pack', 'paso', '--write')).toMatchObject({ status: 2 });
    expect(await place.run('pack', 'paso', '--write', '--dry-run')).toMatchObject({ status: 0 });
    expect(snapshot(place.folder)).toEqual(before);
    await place.run('pack', 'paso', '--write', '--yes');
    expect(readFileSync(place.path('paso/README.md'), 'utf8')).toBe('---\n---\nmine\n');
  });
});

describe('a license', () => {
  it.each([
    ['SPDX-License-Identifier: Apache-2.0 */', 'Apache-2.0'],
    ['SPDX-License-Identifier: (MIT OR GPL-2.0-only)\n', '(MIT OR GPL-2.0-only)'],
    ['SPDX-License-Identifier: whatever I like', undefined],
    ['Licensed under the MIT license', 'MIT'],
    ['Released under the BSD-3-Clause license', 'BSD-3-Clause'],
    ['@license Apache-2.0', 'Apache-2.0'],
    ['Licensed under Apache 2.0, see the file', 'Apache-2.0'],
    ['All rights reserved.', undefined],
    [' * Released under the GPL, version 2 or later\n */', 'GPL-2.0-or-later'],
    ['License: GPLv2 or later */', 'GPL-2.0-or-later'],
    ['GNU General Public License (GPL) v3+', 'GPL-3.0-or-later'],
    ['Licensed under the GNU Lesser General Public License, version 2.1', 'LGPL-2.1-only'],
    ['under the terms of version 3 of the GNU Affero General Public License', 'AGPL-3.0-only'],
    [
      ' * it under the terms of the GNU General Public License\n * as published by the Free Software Foundation; either version 2 of\n * the License, or (at your option) any later version.',
      'GPL-2.0-or-later',
    ],
    ['Dual licensed under the MIT (MIT-LICENSE.txt)\n * and GPL Version 2 (GPL-LICENSE.txt) licenses.', 'MIT OR GPL-2.0-only'],
    ['Licensed under the Apache License, Version 2.0 (the "License");', 'Apache-2.0'],
    ['Released under the MIT license and the New BSD license', 'MIT AND BSD-3-Clause'],
    ['GPL version 2 or later and the MIT license', 'GPL-2.0-or-later AND MIT'],
    ['License: MIT (https://huts.example/mit/) and Apache 2.0', 'MIT AND Apache-2.0'],
    ['under the MIT/Apache-2.0 licenses', 'MIT OR Apache-2.0'],
    ['under version 2 or any later version of the GNU General Public License', 'GPL-2.0-or-later'],
    [`GPL 2${',;'.repeat(100_000)} or later`, 'GPL-2.0-only'],
    ...['a.', '.', '-', 'a-', 'gpl ', 'apache,', 'gnu general public license, ', 'cc-by-', '@license *'].map(
      (piece): [string, undefined] => [`License: creative commons attribution${piece.repeat(2000)}!`, undefined],
    ),
    ['distributed under the terms of EUPL-1.2.', 'EUPL-1.2'],
    ['// License MIT/X11', 'MIT'],
    ['License: (MIT OR GPL-2.0-or-later)', 'MIT OR GPL-2.0-or-later'],
    ['Creative Commons Attribution-ShareAlike 4.0 International License', 'CC-BY-SA-4.0'],
    ['Icons are CC BY 3.0', 'CC-BY-3.0'],
    ['SIL Open Font License, Version 1.1', 'OFL-1.1'],
    ['Mozilla Public License, v. 2.0', 'MPL-2.0'],
    ['distributed under the terms of eupl-1.2', 'EUPL-1.2'],
    ['(c) 2019 MIT', undefined],
    ['Released under the BSD license', undefined],
    ['Released under the GPL', undefined],
    ['@license Huts-only', undefined],
    ['Version 2.0.1 of the rope', undefined],
  ])('is stated by a head: %s', (head, id) => {
    expect(statedLicense(head)).toBe(id);
  });

  it.each(['MIT', 'ISC', 'BSD-2-Clause', 'BSD-3-Clause', 'Apache-2.0', 'MPL-2.0', 'CC-BY-SA-4.0', 'OFL-1.1', 'Unlicense', '0BSD'])(
    'is known by its text, with another holder, year and line ends: %s',
    (id) => {
      const text = (licenseText(id) ?? '')
        .replaceAll('\n', '\r\n')
        .replace(/copyright \(c\).*/i, 'Copyright (c) 2026 Albar Hut League')
        .toUpperCase();
      expect(recogniseLicense(text)).toMatch(new RegExp(`^${id}`));
      expect([isTextOf(text, id), isTextOf(text, id === 'MIT' ? 'ISC' : 'MIT')]).toEqual([true, false]);
    },
  );

  it.each([
    ['MIT', 'ISC', 'this is the text of ISC, and the theme says MIT'],
    ['BSD-2-Clause', 'BSD-3-Clause', 'this is the text of BSD-3-Clause, and the theme says BSD-2-Clause'],
    ['MIT OR ISC', 'ISC', undefined],
    ['GPL-2.0-or-later', 'GPL-2.0-only', undefined],
    ['LicenseRef-huts', 'ISC', undefined],
    ['', 'ISC', undefined],
  ])('that a theme names as %s and holds as %s is judged', async (said, held, wanted) => {
    const place = await paso({ 'sheet.css': HEADER(said === '' ? '' : `license: ${said}\n`), LICENSE: licenseText(held) ?? '' });
    const json = (await place.json('check', 'paso')) as unknown as { findings: { rule: string; message: string }[] };
    expect(json.findings.filter(({ rule }) => rule === 'license/text').map(({ message }) => message)).toEqual(
      wanted === undefined ? [] : [wanted],
    );
  });
});

describe('a package', () => {
  it('that is packed by force says what is wrong with it, and not that it is verified', async () => {
    const place = await paso({ 'pages/front.html': '{{> nowhere}}' });
    const forced = await place.run('pack', 'paso', '--prove', '--force');
    expect([forced.status, forced.stdout]).toEqual([
      0,
      expect.stringMatching(/paso\.zip holds .*read back and unpacked; [1-9]\d* errors?, [1-9]\d* broken pages?\n/),
    ]);
    writeFiles(place.path('paso'), { 'sheet.css': '/*---\ntitle: Paso\n---*/\n' });
    const refused = await place.run('pack', 'paso', '--prove', '--force');
    expect([refused.stdout, refused.stdout]).toEqual([
      expect.stringMatching(/read back and unpacked; (?:the host refuses it|[1-9])/),
      expect.not.stringContaining('verified'),
    ]);
  });

  it('is called by a version that leads nowhere', async () => {
    const place = new Workplace();
    writeFiles(place.folder, {
      'own.platform.yaml':
        'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\npackage: { formats: [whl], forms: { whl: { name: "{id}-{version}", adds: [{ path: "{id}-{version}/x", text: "{title}\\n{nothing}\\n{version}" }] } } }\n',
    });
    await place.run('new', 'paso', '--platform', 'vereda', '--to', 'in/side', '--yes');
    writeFiles(place.path('in/side/paso'), { 'sheet.css': '/*---\ntitle: Paso\nversion: "../../evil"\nhosts: ">=2"\n---*/\n' });
    const { status } = await place.runIn('in/side', 'pack', 'paso', '--platform', '../../own.platform.yaml', '--force');
    expect([status, readdirSync(place.path('in/side')), readdirSync(place.folder).includes('evil.whl')]).toEqual([
      0,
      ['paso', 'paso-.._.._evil.whl'],
      false,
    ]);
    expect(runTool('unzip', ['-p', place.path('in/side/paso-.._.._evil.whl'), 'paso-.._.._evil/x']).stdout).toBe('Paso\n.._.._evil');
  });

  it('that leaves out what the theme needs is not made', async () => {
    const place = await paso();
    writeFiles(place.folder, { 'pionero.yaml': 'pack: { exclude: [main.html] }\n' });
    expect(await place.run('check', 'paso')).toMatchObject({ status: 0 });
    const packed = await place.run('pack', 'paso');
    expect([packed.status, packed.stdout + packed.stderr]).toEqual([1, expect.stringMatching(/main\.html[^]*was not packed/)]);
    expect(existsSync(place.path('paso.zip'))).toBe(false);
    writeFiles(place.folder, {
      'pionero.yaml': 'pack: { exclude: [drafts/] }\n',
      'paso/css/z.css': '.z { background: url(../drafts/p.png) }\n',
      'paso/drafts/p.png': 'x',
      'paso/drafts/q.png': 'x',
    });
    expect((await place.run('pack', 'paso')).stdout).toMatch(
      /“\.\.\/drafts\/p\.png” does not exist[^]*▲ drafts\/ is in the theme, but not in the package: excluded by pionero\.yaml\.\n/,
    );
  });

  it('is proved: unpacked, checked, shown', async () => {
    const place = await paso();
    const json = (await place.json('pack', 'paso', '--prove')) as unknown as { proved: boolean };
    expect(json.proved).toBe(true);
    expect((await place.run('pack', 'paso', '--prove')).stdout).toMatch(/verified: read back, unpacked, checked, shown on [1-9]\d* pages/);
    expect((await place.run('pack', 'paso')).stdout).toMatch(/verified\n/);
  });

  it('raises the version first, and only with a yes', async () => {
    const place = await paso();
    const before = snapshot(place.folder);
    expect(await place.run('pack', 'paso', '--bump', 'minor')).toMatchObject({ status: 2 });
    expect(snapshot(place.folder)).toEqual(before);
    const { stdout } = await place.run('pack', 'paso', '--bump', 'minor', '--yes');
    expect(stdout).toMatch(/paso {2}0\.1\.0 → 0\.2\.0/);
    expect(runTool('unzip', ['-p', place.path('paso.zip'), 'paso/sheet.css']).stdout).toContain('version: 0.2.0');
  });

  it('is put into a folder that is there, or is named like one', async () => {
    const place = await paso();
    writeFiles(place.folder, { 'dist/.keep': '' });
    expect((await place.run('pack', 'paso', '--out', 'dist')).stdout).toMatch(/^✓ dist\/paso\.zip holds/);
    expect((await place.run('pack', 'paso', '--out', 'sent/', '--yes')).stdout).toMatch(/✓ sent\/paso\.zip holds/);
    expect(await place.run('pack', 'paso', '--out', 'sen')).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/the name sen does not say which kind[^]*or a folder’s with \//) as string,
    });
  });

  it('holds no package of the theme that lies in it', async () => {
    const place = await paso();
    const said = async (out: string): Promise<string> => (await place.run('pack', 'paso', '--out', out)).stdout;
    const first = await said('paso/paso.zip');
    const sha256 = /sha256 \w{64}/.exec(first)?.[0] ?? '';
    expect(first).not.toContain('▲');
    expect(await said('paso')).toContain(sha256);
    expect((await place.run('pack', 'paso', '--list')).stdout).toMatch(/Left out\n.* paso\.zip {2}is a package of this theme\n/);
    expect(await said('paso/look.zip')).toMatch(/▲ paso\/look\.zip lies in the theme itself/);
    await place.run('new', 'cierzo', '--platform', 'sphinx', '--yes');
    writeFiles(place.path('cierzo'), { 'cierzo_theme-0.9-py3-none-any.whl': 'x', 'cierzo_theme.txt': 'x' });
    const { stdout } = await place.run('pack', 'cierzo', '--as', 'whl', '--list');
    expect(stdout).toMatch(/cierzo_theme\.txt[^]*Left out\n.*cierzo_theme-0\.9-py3-none-any\.whl {2}is a package of this theme\n/);
  });

  it('is called in what is to be done next as it was called with --out', async () => {
    const { stdout } = await (await paso()).run('pack', 'paso', '--out', 'dist/look.zip', '--yes');
    expect(stdout).toMatch(/Next\n {2}1\. Upload dist\/look\.zip under/);
  });

  it('takes its parents and shared files along, each in its archive, in the order of the chain', async () => {
    const place = new Workplace();
    cpSync(SHELF, place.path('shelf'), { recursive: true });
    await place.run('pack', 'shelf/albar-noche', '--with-parents', '--out', 'dist', '--yes');
    expect(readdirSync(place.path('dist')).sort()).toEqual(['albar-noche.zip', 'albar.zip']);
    await place.run('new', 'cierzo', '--platform', 'estrato', '--yes');
    writeFiles(place.folder, { 'site/commons/ropes/templates/knot.html': 'knot\n' });
    cpSync(place.path('cierzo'), place.path('site/layers/cierzo'), { recursive: true });
    await place.run('meta', 'set', 'site/layers/cierzo', 'commons=ropes', '--yes');
    await place.run('pack', 'site/layers/cierzo', '--with-commons', '--out', 'all', '--yes');
    expect(readdirSync(place.path('all')).sort()).toEqual(['cierzo.zip', 'ropes.zip']);
    expect(runTool('unzip', ['-Z1', place.path('all/ropes.zip')]).stdout).toContain('ropes/templates/knot.html');
  });

  it('is listed with sizes, and with reasons for what is left out', async () => {
    const place = await paso({ 'notes.psd': 'x'.repeat(2000) });
    const { stdout } = await place.run('pack', 'paso', '--list');
    expect(stdout).toMatch(
      /^paso\.zip {2}\d+ files[^]* \d+ B {2}paso\/main\.html[^]*Left out\n +2\.0 kB {2}notes\.psd {2}Vereda wants no such files/,
    );
    expect(existsSync(place.path('paso.zip'))).toBe(false);
  });

  it('is not written when a file changes while it is checked', async () => {
    const place = await paso({ 'b.css': 'b{}\n' });
    // A rule of somebody's own stands for an editor that saves at that moment: as many bytes, and others.
    writeFiles(place.folder, {
      'pionero.yaml': 'rule-files: [own.mjs]\n',
      'own.mjs': `import { writeFileSync } from 'node:fs';
export default {
  meta: { id: 'hut/bell', severity: 'warning', summary: 'No bell', why: 'Guests ring.', messages: { none: 'there is no bell' }, example: { none: 'x' } },
  *check() { writeFileSync(${JSON.stringify(place.path('paso/b.css'))}, 'c{}\\n'); },
};\n`,
    });
    // Somebody agreed to run it once.
    await place.run('check', 'paso', '--yes');
    writeFileSync(place.path('paso/b.css'), 'b{}\n');
    utimesSync(place.path('paso/b.css'), 1, 1);
    expect(await place.run('pack', 'paso')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/b\.css cannot be read[^]*changed in the meantime/) as string,
    });
    expect(existsSync(place.path('paso.zip'))).toBe(false);
  });

  it('has the same bytes under any clock, zone, locale, umask, folder, file times, order and number of cores', async () => {
    need('shell');
    // So much to deflate that a worker is worth its start, where there is more than one core.
    const large = Object.fromEntries(['c', 'd', 'e'].map((name, i) => [`${name}.css`, `.hut-${i} { top: ${i}px }\n`.repeat(150_000)]));
    const place = await paso({ 'b/é.css': 'a{}\n', 'B.css': 'b{}\n', ...large });
    const sums = ['first', 'second'].map((name, i) => {
      const folder = place.path(name, 'deep'.repeat(i), 'paso');
      mkdirSync(join(folder, '..'), { recursive: true });
      const files = snapshot(place.path('paso'));
      cpSync(place.path('paso'), folder, { recursive: true });
      for (const [n, path] of Object.keys(files).entries()) utimesSync(join(folder, path), n + 1, i === 0 ? 1_000_000 : 1_500_000_000 + n);
      if (i === 1) for (const path of ['sheet.css', 'B.css']) chmodSync(join(folder, path), 0o600);
      const env =
        i === 0
          ? { TZ: 'Pacific/Auckland', LANG: 'C', LC_ALL: 'C' }
          : { TZ: 'America/St_Johns', LANG: 'tr_TR.UTF-8', UV_THREADPOOL_SIZE: '1' };
      const cores = i === 0 ? [] : ['taskset', '-c', '0'];
      const line = [...cores, process.execPath, PROGRAM, 'pack', folder, '--out', place.path(`${name}.zip`)];
      const { status, stderr } = spawnSync('sh', ['-c', `umask ${i === 0 ? '000' : '077'}; exec "$@"`, 'sh', ...line], {
        env: { ...place.env, PATH: process.env['PATH'], ...env },
        encoding: 'utf8',
      });
      expect([status, stderr]).toEqual([0, '']);
      return createHash('sha256')
        .update(readFileSync(place.path(`${name}.zip`)))
        .digest('hex');
    });
    const { sha256 } = await place.json('pack', 'paso');
    expect([...sums, sha256]).toEqual([sums[0], sums[0], sums[0]]);
  });
});
