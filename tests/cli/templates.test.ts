import { expect, it } from 'vitest';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

/** A host whose templates are in a language that nobody here knows by name. */
const REFUGIO = `pionero: platform/1
name: refugio
title: Refugio
summary: Templates in a language of its own.
releases: ["1"]
home: themes/{id}
id: { pattern: "^[a-z]+$", grammar: lower-case letters, spelling: flat }
recognise: [{ path: theme.yaml }]
documents: [{ path: theme.yaml, syntax: yaml, required: always, fields: [{ key: title, fact: title, required: always }, { key: regions, fact: regions, type: list }] }]
templates:
  language:
    comment: ["{# {text} #}"]
    include: ['{% include "{path}" %}']
    extend: ['{% extends "{path}" %}']
    print: ["{{ {text} }}"]
    raw: ["{{ {text}|raw }}"]
    sections:
      - { opens: "{%{?-} if {text} %}", closes: "{%{?-} endif {?-}%}" }
      - { opens: "{% for {text} %}", closes: "{% endfor %}" }
  files: ["**/*.tpl"]
  roles:
    front: { file: front.tpl, prints: ["{{ page.title }}"] }
    list: { file: parts/list.tpl }
  partials: { file: "{path}" }
  fragments: [{ text: "{{ host.head|raw }}", when-holds: <head>, before: </head>, why: nothing is loaded }]
regions: { fact: regions, printed: "{{ areas.{name}|raw }}", defaults: [main] }
package: { formats: [zip] }
`;

const THEME = {
  'theme.yaml': 'title: Paso\n',
  'front.tpl': `{% extends 'base.tpl' %}\n{# {% include "gone.tpl" %} #}\n{% include 'parts/menu.tpl' %}\n{{ areas.main|raw }}\n`,
  'base.tpl': '<html><head>{% include "parts/head.tpl" %}</head><body>{{ page.title }}</body></html>\n',
  'parts/head.tpl': '<title>Paso</title>{{ host.head|raw }}\n',
  'parts/menu.tpl': '<nav>{% if open %}{% include "parts/menu.tpl" %}{% endif %}</nav>\n',
  'parts/list.tpl': '<ul></ul>\n',
};

async function checked(files: Record<string, string>) {
  const place = new Workplace();
  writeFiles(place.folder, { 'refugio.platform.yaml': REFUGIO });
  writeFiles(place.path('paso'), { ...THEME, ...files });
  const at = ['paso', '--platform', './refugio.platform.yaml'];
  const { findings } = (await place.json('check', ...at)) as { findings: { rule: string; file: string; line: number }[] };
  const pages = (await place.json('rehearse', ...at)) as { pages: { role: string; rendered: boolean; problem?: string }[] };
  return { found: findings.map(({ rule, file, line }) => `${rule} ${file}:${line}`), pages: pages.pages, place, at };
}

it('templates of a described language get no false finding, and no page is said to be shown', async () => {
  const { found, pages, place, at } = await checked({});
  expect(found).toEqual([]);
  expect(pages).toMatchObject([
    { role: 'front', rendered: false },
    { role: 'list', rendered: false },
  ]);
  expect((await place.run('rehearse', ...at)).stdout).toMatch(
    /^– \S+ is not shown: templates in a language of its own[^]*– front {2}front\.tpl .*not made[^]*No page was made/,
  );
});

it.each([
  [
    'a partial in single quotes that is not there',
    { 'front.tpl': "{% include 'parts/mneu.tpl' %}{{ page.title }}{{ areas.main|raw }}\n" },
    ['template/partial front.tpl:1', /it includes parts\/mneu\.tpl/],
  ],
  [
    'a circle outside any condition',
    { 'parts/menu.tpl': '{% include "parts/menu.tpl" %}\n' },
    ['partial/circle parts/menu.tpl:1', undefined],
  ],
  [
    'a region in a comment',
    { 'front.tpl': "{% extends 'base.tpl' %}{% include 'parts/menu.tpl' %}{# {{ areas.other|raw }} #}\n" },
    [undefined, undefined],
  ],
  ['a region that is not declared', { 'parts/list.tpl': '{{ areas.other|raw }}\n' }, ['region/undeclared parts/list.tpl:1', undefined]],
  ['a fragment in a comment', { 'parts/head.tpl': '{# {{ host.head|raw }} #}\n' }, ['template/fragment base.tpl:1', undefined]],
  [
    'a page that prints its content in a comment only',
    { 'base.tpl': '<p>{# {{ page.title }} #}</p>{% include "parts/head.tpl" %}\n' },
    ['template/content front.tpl:1', undefined],
  ],
  [
    'a section that is closed as another one',
    { 'parts/menu.tpl': '<nav>\n{%- if open %}{% for a in b %}{% endfor %}\n{% endfor %}</nav>\n' },
    ['template/syntax parts/menu.tpl:3', undefined],
  ],
  [
    'a section in another one that is closed first',
    { 'parts/menu.tpl': '<nav>{% if open %}{% for a in b %}\n{%- endif -%}</nav>\n' },
    ['template/syntax parts/menu.tpl:2', undefined],
  ],
  [
    'a section with hyphens that nothing closes',
    { 'parts/menu.tpl': '<nav>{%- if open %}</nav>\n' },
    ['template/syntax parts/menu.tpl:1', undefined],
  ],
  [
    'a tag that begins with the word of another one',
    { 'parts/menu.tpl': '<nav>{% ifchanged %}{% format a %}</nav>\n' },
    [undefined, undefined],
  ],
  ['a forgotten partial', { 'parts/old.tpl': '<p></p>\n' }, ['partial/unused parts/old.tpl:1', undefined]],
  ['an address of a picture that is not there', { 'parts/list.tpl': '<img src="gone.png" alt="">\n' }, [undefined, undefined]],
])('%s', async (_what, files, [rule, problem]) => {
  const { found, pages } = await checked(files);
  expect(found).toEqual(rule === undefined ? [] : [rule]);
  const problems = pages.flatMap((page) => page.problem ?? []);
  expect(problems).toHaveLength(problem === undefined ? 0 : 1);
  expect(problems.every((each) => new RegExp(problem ?? '').test(each))).toBe(true);
});

it('partials whose place is named by {name} are found, and a role’s template among them is no unused one', async () => {
  const place = new Workplace();
  await place.run('new', 'paso', '--platform', 'vereda', '--yes');
  const partials = 'partials: { file: "partials/{name}.html", include: "{{> {name} }}" }';
  writeFiles(place.folder, {
    'own.platform.yaml': `pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\ntemplates:\n  ${partials}\n  roles: { search: { file: partials/search-page.html } }\n`,
  });
  writeFiles(place.path('paso'), { 'partials/search-page.html': '<p>{{query}}</p>\n', 'partials/old.html': '<p></p>\n' });
  const { findings } = (await place.json('check', 'paso', '--platform', './own.platform.yaml')) as {
    findings: { rule: string; file: string }[];
  };
  expect(findings.map(({ rule, file }) => `${rule} ${file}`)).toEqual(['partial/unused partials/old.html']);
  const shown = await place.run('rehearse', 'paso', '--platform', './own.platform.yaml', '--out', 'site');
  expect(shown).toMatchObject({ status: 0 });
  writeFiles(place.path('paso'), { 'main.html': '<head></head>{{> gone}}\n' });
  expect((await place.run('rehearse', 'paso', '--platform', './own.platform.yaml')).stdout).toMatch(
    /✗ main .*it includes partials\/gone\.html/,
  );
});
