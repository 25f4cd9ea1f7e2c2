import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { readConfiguration } from '../../src/core/configuration/read-configuration.ts';
import { ConfigurationError, FailedOperationError, RefusedError, systemCode, systemReason, UsageError } from '../../src/core/errors.ts';
import { PlatformSchema } from '../../src/core/platform/schema.ts';
import { SourceDocument } from '../../src/core/text/source-document.ts';

function problemsOf(text: string, schema: z.ZodType): string[] {
  try {
    readConfiguration(SourceDocument.fromText('x.yaml', text), schema, 'file');
    return [];
  } catch (error) {
    if (!(error instanceof ConfigurationError)) throw error;
    return error.problems.map(({ line, column, message }) => `${line}:${column} ${message}`);
  }
}

const Schema = z.strictObject({
  name: z.string(),
  size: z.int().positive().optional(),
  kind: z.enum(['one', 'two']).default('one'),
  parts: z.array(z.strictObject({ path: z.string(), key: z.union([z.string(), z.array(z.string())]).optional() })).default([]),
  map: z.record(z.string(), z.strictObject({ file: z.string() })).default({}),
});

describe('a configuration file', () => {
  it.each<[string, string[]]>([
    ['name: x', []],
    ['{}', ['1:1 “name” is missing (a text expected)']],
    ['name: 1', ['1:7 “name” is wrong: expected a text, received a number']],
    ['name: x\nsize: big', ['2:7 “size” is wrong: expected a number, received a text']],
    ['name: x\nsize: -1', [expect.stringMatching(/^2:7 “size” is wrong: too small/) as string]],
    ['name: x\nkind: three', ['2:7 “kind” must be one of "one", "two"']],
    ['name: x\nnmae: y', ['2:1 “nmae” is not known here; did you mean “name”?']],
    ['name: x\ncolour: red', ['2:1 “colour” is not known here; known: name, size, kind, parts, map']],
    [
      'name: x\nparts:\n  - path: a\n  - pth: b',
      ['4:5 “parts.1.path” is missing (a text expected)', '4:5 “parts.1.pth” is not known here; did you mean “path”?'],
    ],
    ['name: x\nparts:\n  - { path: a, key: [1] }', ['3:22 “parts.0.key.0” is wrong: expected a text, received a number']],
    ['name: x\nparts:\n  - { path: a, key: { b: c } }', ['3:21 “parts.0.key” has a form that is not known here']],
    [
      'name: x\nmap:\n  a: { fil: b }',
      [expect.stringMatching(/^3:6 “map\.a\.file” is missing/) as string, '3:8 “map.a.fil” is not known here; did you mean “file”?'],
    ],
  ])('%j', (text, wanted) => {
    expect(problemsOf(text, Schema)).toEqual(wanted);
  });

  it('with broken YAML is reported where it breaks', () => {
    expect(problemsOf('name: x\nsize: [1, 2', Schema)[0]).toMatch(/^2:\d+ /);
    expect(problemsOf('name: x\nname: y', Schema)[0]).toMatch(/^2:1 .*unique/i);
  });

  it('cannot be a bomb of aliases', () => {
    const bomb = [
      'a: &a [x, x, x, x, x, x, x, x, x]',
      ...'bcdefgh'.split('').map((key, i) => `${key}: &${key} [${Array(9).fill(`*${'abcdefgh'[i]}`).join(', ')}]`),
    ].join('\n');
    expect(() => readConfiguration(SourceDocument.fromText('x.yaml', bomb), Schema, 'file')).toThrow(/aliases unfold to too much/);
  });
});

describe('a platform file', () => {
  const LEAST =
    'pionero: platform/1\nname: x\ntitle: X\nsummary: x\nreleases: ["1"]\nhome: themes/{id}\nid: { pattern: "^x$", grammar: x }\nrecognise: [{ path: a }]\ndocuments: [{ path: a, syntax: yaml }]\npackage: { formats: [zip] }\n';

  it('needs little, and gets its defaults', () => {
    const read = readConfiguration(SourceDocument.fromText('x', LEAST), PlatformSchema, 'platform file');
    expect(read).toMatchObject({
      id: { spelling: 'kebab', reserved: [] },
      documents: [{ required: 'no', 'other-fields': 'ignored', fields: [] }],
      inheritance: { kind: 'none', 'built-in': [] },
      package: { name: '{id}', top: '{id}', 'leave-out': [] },
      'next-steps': { new: [], meta: [], pack: [] },
    });
  });

  it.each([
    ['pionero: platform/1', 'pionero: platform/2', /^1:10 “pionero” must be "platform\/1"$/],
    ['releases: ["1"]', 'releases: [one]', /^5:12 “releases\.0” is wrong: a release is written like 4 or 4\.1/],
    ['releases: ["1"]', 'releases: []', /^5:11 “releases” is wrong: too small/],
    ['name: x', 'name: My Host', /^2:7 “name” is wrong/],
    ['syntax: yaml }', 'syntax: yaml, required: allways }', /“documents\.0\.required” must be one of "always"/],
    ['formats: [zip]', 'formats: [rar]', /“package\.formats\.0” must be one of "zip", "tar\.gz"/],
    ['pattern: "^x$"', 'pattern: "^(x"', /“id\.pattern” is wrong: it is not a regular expression that/],
    ['pattern: "^x$"', 'pattern: "^(?=x)"', /“id\.pattern” is wrong: it is not a regular expression that can be matched in linear time/],
    ['home: themes/{id}', 'home: ../../x/{id}', /“home” is wrong: it must not hold the parts/],
    ['home: themes/{id}', 'home: "x\\0/{id}"', /“home” is wrong: it holds a control character/],
    ['home: themes/{id}', 'home: /etc/{id}', /“home” is wrong: it must start from a folder/],
    ['syntax: yaml', 'syntax: ymal', /“documents\.0\.syntax” is wrong: there is no syntax “ymal”; did you mean “yaml”/],
    ['home: themes/{id}', 'hom: themes/{id}', /“home” is missing/],
  ])('with %j written %j is reported', (from, to, wanted) => {
    expect(problemsOf(LEAST.replace(from, to), PlatformSchema)).toEqual(expect.arrayContaining([expect.stringMatching(wanted)]));
  });
});

describe('errors', () => {
  it.each([
    [UsageError, 'usage'],
    [ConfigurationError, 'configuration'],
    [RefusedError, 'refused'],
    [FailedOperationError, 'failed'],
  ])('%s carry what, why, hint and cause', (kind, code) => {
    const cause = new Error('below');
    const error = new kind({ what: 'a', why: 'b', hint: 'c', cause });
    expect(error).toMatchObject({ code, name: kind.name, what: 'a', why: 'b', hint: 'c', message: 'a', cause });
  });

  it.each([
    ['ENOSPC', 'the disk is full'],
    ['EROFS', 'the file system is read-only'],
    ['EACCES', 'permission denied'],
    ['EWHATEVER', 'EWHATEVER'],
  ])('of the system are said in words: %s', (code, words) => {
    const error = Object.assign(new Error('x'), { code });
    expect([systemCode(error), systemReason(error)]).toEqual([code, words]);
  });

  it('of other kinds keep their text', () => {
    expect([systemCode(new Error('x')), systemReason(new Error('x')), systemReason('y')]).toEqual([undefined, 'x', 'y']);
  });
});
