import { spawn } from 'node:child_process';
import { existsSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { describe, expect, it } from 'vitest';
import {
  CodeActionRequest,
  CodeLensRequest,
  CompletionRequest,
  DefinitionRequest,
  DidChangeWorkspaceFoldersNotification,
  DidRenameFilesNotification,
  DocumentLinkRequest,
  DocumentSymbolRequest,
  HoverRequest,
  PrepareRenameRequest,
  ReferencesRequest,
  RenameRequest,
  WillRenameFilesRequest,
  type CodeAction,
  type CompletionItem,
  type Diagnostic,
  type Location,
  type TextDocumentEdit,
} from 'vscode-languageserver-protocol/node';
import { Editor } from '../support/editor.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const ALBAR = 'demo/shelf/albar';
const NOCHE = 'demo/shelf/albar-noche';

async function opened(...paths: string[]): Promise<{ place: Workplace; editor: Editor }> {
  const place = new Workplace().withShelf();
  const editor = await Editor.start(place);
  for (const path of paths) await editor.open(path, readFileSync(place.path(path), 'utf8'));
  return { place, editor };
}

const put = (place: Workplace, path: string, text: string) => writeFiles(place.folder, { [path]: text });
const readIn = (place: Workplace, path: string) => readFileSync(place.path(path), 'utf8');
const codes = (findings: readonly { code?: string | number }[]) => findings.map(({ code }) => code);

describe('while one types', () => {
  it('findings come and go with the text that is not saved, with their page, and their fix', async () => {
    const front = `${ALBAR}/pages/front.html`;
    const { editor } = await opened(front);
    await editor.findings(front, (now) => now.length === 0);
    await editor.type(front, '{{> footer}}', '{{> fotter}}');
    const [finding] = await editor.findings(front, (now) => now.length === 1);
    expect(finding).toMatchObject({
      code: 'template/partial',
      severity: 1,
      source: 'pionero',
      codeDescription: { href: expect.stringMatching(/docs\/rules\.md#templatepartial$/) as string },
      message: expect.stringMatching(/“fotter” does not exist[^]*did you mean “footer”/) as string,
    });
    const range = finding?.range ?? { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } };
    const actions =
      (await editor.connection.sendRequest(CodeActionRequest.type, {
        textDocument: { uri: editor.uri(front) },
        range,
        context: { diagnostics: [] },
      })) ?? [];
    expect(actions.map(({ title }) => title)).toEqual(['Include “footer”', 'Accept template/partial here, with a reason']);
    expect(actions[0]).toMatchObject({ edit: { documentChanges: [{ edits: [{ newText: 'footer' }] }] } });
    await editor.type(front, '{{> fotter}}', '{{> footer}}');
    await editor.findings(front, (now) => now.length === 0);
  });

  it('the name that a finding proposes is given everywhere, and to nothing else', async () => {
    const hooks = `${ALBAR}/hooks.php`;
    const place = new Workplace().withShelf();
    const code = [
      '<?php',
      'function setup() { }',
      'class Menus { function setup() { return $this->setup(); } }',
      "host_on('init', 'setup');",
      '$setup = setup() . Menus::setup() . "setup of it"; // setup',
      "$of = ['setup' => 1, $setup['setup']];",
    ].join('\n');
    put(place, hooks, code);
    put(place, `${ALBAR}/more.php`, '<?php\nsetup();\n');
    put(place, `${ALBAR}/scripts/more.js`, 'setup({ setup: 1 });\n');
    put(place, `${ALBAR}/styles/more.css`, '#setup { top: 0 }\n');
    const editor = await Editor.start(place);
    await editor.open(hooks, code);
    const [finding] = await editor.findings(hooks, (now) => codes(now).includes('identifier/prefix'));
    const range = finding?.range ?? { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } };
    const actions = await editor.connection.sendRequest(CodeActionRequest.type, {
      textDocument: { uri: editor.uri(hooks) },
      range,
      context: { diagnostics: [] },
    });
    const action = actions?.find(({ title }) => title === 'Rename setup to albar_setup, with its calls');
    const changes = (action as CodeAction | undefined)?.edit?.documentChanges as TextDocumentEdit[] | undefined;
    const places = changes?.flatMap(({ textDocument, edits }) =>
      edits.map(({ range: { start } }) => `${textDocument.uri.split('/').at(-1)}:${start.line}:${start.character}`),
    );
    expect(places).toEqual(['hooks.php:1:9', 'hooks.php:3:17', 'hooks.php:4:9', 'more.php:1:0']);
  });

  it('another place that a finding is about stands with it, in another theme, too', async () => {
    const hooks = `${ALBAR}/hooks.php`;
    const place = new Workplace().withShelf();
    put(place, `${NOCHE}/hooks.php`, '<?php\nfunction albar_head() {}\n');
    const editor = await Editor.start(place);
    await editor.open(hooks, readIn(place, hooks));
    const [, finding] = await editor.findings(`${NOCHE}/hooks.php`, (now) => now.length > 1);
    const line = readIn(place, hooks)
      .split('\n')
      .findIndex((each) => each.startsWith('function albar_head('));
    expect(finding).toMatchObject({
      code: 'identifier/unique',
      relatedInformation: [
        {
          message: 'declared in “albar” too',
          location: { uri: editor.uri(hooks), range: { start: { line, character: 9 }, end: { line, character: 19 } } },
        },
      ],
    });
  });

  it('a child is judged over its parent as that is being typed', async () => {
    const footer = `${NOCHE}/partials/footer.html`;
    const { editor } = await opened(footer, `${ALBAR}/partials/header.html`);
    await editor.findings(footer, (now) => now.length === 0);
    await editor.type(footer, 'Good night', '{{> moon}}Good night');
    expect(codes(await editor.findings(footer, (now) => now.length > 0))).toEqual(['template/partial']);
    // The parent gets the partial, in a file that is not on disk yet.
    await editor.open(`${ALBAR}/partials/moon.html`, '<i>moon</i>\n');
    await editor.findings(footer, (now) => now.length === 0);
  });

  it('of a thousand quick changes the last one is answered, and few of the others', async () => {
    const front = `${ALBAR}/pages/front.html`;
    const { editor } = await opened(front);
    await editor.findings(front, (now) => now.length === 0);
    for (let i = 0; i < 1000; i++) await editor.type(front, i === 0 ? '{{> footer}}' : `{{> x${i - 1}}}`, `{{> x${i}}}`);
    const [finding] = await editor.findings(front, (now) => JSON.stringify(now).includes('x999'));
    expect(finding).toMatchObject({ code: 'template/partial' });
    expect(editor.published.get(editor.uri(front))).toBeLessThan(50);
  });

  it('a manifest is judged by its fields', async () => {
    const sheet = `${ALBAR}/sheet.css`;
    const { editor } = await opened(sheet);
    await editor.type(sheet, 'version: 2.3.0', 'version: two');
    expect(codes(await editor.findings(sheet, (now) => now.length > 0))).toContain('field/type');
    await editor.type(sheet, 'version: two', 'version: 2.3.0');
    await editor.findings(sheet, (now) => now.length === 0);
  });
});

describe('files that are not open', () => {
  it('are judged too: of every theme in the folder, as they come, change and go', async () => {
    const place = new Workplace().withShelf();
    put(place, `${NOCHE}/partials/footer.html`, '{{> moon}}\n');
    const editor = await Editor.start(place);
    const footer = `${NOCHE}/partials/footer.html`;
    expect(codes(await editor.findings(footer, (now) => now.length > 0))).toEqual(['template/partial']);
    put(place, `${NOCHE}/partials/moon.html`, '<i>moon</i>\n');
    await editor.changedOnDisk(`${NOCHE}/partials/moon.html`);
    await editor.findings(footer, (now) => now.length === 0);
    put(place, footer, '{{> sun}}\n');
    await editor.changedOnDisk(footer);
    await editor.findings(footer, (now) => now.length > 0);
    rmSync(place.path(NOCHE), { recursive: true });
    await editor.changedOnDisk(footer);
    await editor.findings(footer, (now) => now.length === 0);
    put(
      place,
      'demo/shelf/cierzo/sheet.css',
      '/*---\ntitle: Cierzo\nversion: two\nhosts: ">=4"\nparent: albar\nparent-sheet: before\n---*/\n',
    );
    await editor.changedOnDisk('demo/shelf/cierzo/sheet.css');
    expect(codes(await editor.findings('demo/shelf/cierzo/sheet.css', (now) => now.length > 0))).toContain('field/type');
  });

  it('a configuration has its mistakes at their keys, as it is on disk and as it is typed', async () => {
    const place = new Workplace().withShelf();
    put(place, 'pionero.yaml', 'rulez: {}\n');
    const editor = await Editor.start(place);
    const [mistake] = await editor.findings('pionero.yaml', (now) => now.length > 0);
    expect(mistake).toMatchObject({ severity: 1, range: { start: { line: 0, character: 0 }, end: { line: 0, character: 6 } } });
    await editor.open('pionero.yaml', 'rules: {}\n');
    await editor.findings('pionero.yaml', (now) => now.length === 0);
    const hover = await editor.connection.sendRequest(HoverRequest.type, editor.behind('pionero.yaml', 'rul'));
    expect(hover?.contents).toHaveProperty('value', expect.stringMatching(/By rule: its severity/));
    await editor.type('pionero.yaml', '{}', '\n  asset/unused: o');
    const items = (await editor.connection.sendRequest(CompletionRequest.type, editor.behind('pionero.yaml', ': o'))) as CompletionItem[];
    expect(items.map(({ label }) => label)).toContain('off');
  });

  it('a parent that goes, with or without a word, and comes back is missed as long as it is away', async () => {
    const place = new Workplace().withShelf();
    const editor = await Editor.start(place);
    const manifest = `${NOCHE}/sheet.css`;
    await editor.open(manifest, readIn(place, manifest));
    await editor.findings(manifest, (now) => now.length === 0);
    renameSync(place.path(ALBAR), place.path('away'));
    // Nobody said so yet.
    await editor.type(manifest, 'version: 1', 'version: x1');
    expect(codes(await editor.findings(manifest, (now) => now.length > 0))).toContain('field/type');
    await editor.type(manifest, 'version: x1', 'version: 1');
    await editor.changedOnDisk(`${ALBAR}/sheet.css`);
    await editor.findings(manifest, (now) => codes(now).includes('parent/missing'));
    renameSync(place.path('away'), place.path(ALBAR));
    await editor.changedOnDisk(`${ALBAR}/sheet.css`);
    await editor.findings(manifest, (now) => now.length === 0);
  });

  it('a parent that loses its manifest and gets it back is missed as long as it has none', async () => {
    const place = new Workplace().withShelf();
    const editor = await Editor.start(place);
    const manifests = { parent: `${ALBAR}/sheet.css`, child: `${NOCHE}/sheet.css` };
    await editor.open(manifests.child, readIn(place, manifests.child));
    await editor.findings(manifests.child, (now) => now.length === 0);
    renameSync(place.path(manifests.parent), place.path('away.css'));
    await editor.changedOnDisk(manifests.parent);
    await editor.findings(manifests.child, (now) => codes(now).includes('parent/missing'));
    renameSync(place.path('away.css'), place.path(manifests.parent));
    await editor.changedOnDisk(manifests.parent);
    await editor.findings(manifests.child, (now) => now.length === 0);
  });

  it('are judged by the rules that people agreed to run, as they were then, and without what their baseline knows', async () => {
    const place = new Workplace().withShelf();
    const page = `${NOCHE}/partials/footer.html`;
    const rule = (say: string) =>
      `export default { meta: { id: 'hut/word', severity: 'note', summary: 'x', why: 'x.', messages: { a: '${say}' }, example: { none: 'x' } },
        *checkText(source) { if (source.text.includes('norte')) yield { message: 'a', file: source.file, source, range: { start: 0, end: 1 } }; } };\n`;
    put(place, 'pionero.yaml', 'rule-files: [huts.mjs]\nbaseline: known.json\n');
    put(place, 'huts.mjs', rule('no wind'));
    put(place, page, '{{> moon}} norte\n');
    await place.run('check', 'demo/shelf', '--baseline-out', 'known.json', '--yes');
    put(place, page, '{{> moon}} norte\n{{> sun}}\n');
    const editor = await Editor.start(place);
    const messages = (findings: readonly Diagnostic[]) =>
      findings.map(({ message }) => (typeof message === 'string' ? message : message.value).split('\n')[0]);
    expect(messages(await editor.findings(page, (now) => now.length > 0))).toEqual([expect.stringMatching(/“sun” does not exist/)]);
    put(place, 'known.json', '{ "pionero": "baseline/1", "themes": {} }');
    await editor.changedOnDisk('known.json');
    expect(messages(await editor.findings(page, (now) => now.length > 2))).toContain('no wind');
    // What it is by now, nobody agreed to; and then somebody does.
    put(place, 'huts.mjs', rule('no sun'));
    await editor.changedOnDisk('huts.mjs');
    const [mistake] = await editor.findings('pionero.yaml', (now) => now.length > 0);
    expect(mistake).toMatchObject({ message: expect.stringMatching(/nobody agreed to run it/) as string, range: { start: { line: 0 } } });
    await place.run('check', NOCHE, '--yes');
    await editor.changedOnDisk('huts.mjs');
    await editor.findings(page, (now) => messages(now).includes('no sun'));
    await editor.findings('pionero.yaml', (now) => now.length === 0);
  });

  it('are judged again when their platform file is saved, and as it was while it is wrong', async () => {
    const place = new Workplace().withShelf();
    const platform = (more: string) => `pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\nsummary: Like it\n${more}`;
    put(place, 'demo/shelf/pionero.yaml', 'platform: ../../own.platform.yaml\n');
    put(place, 'own.platform.yaml', platform(''));
    const editor = await Editor.start(place);
    const sheet = `${ALBAR}/sheet.css`;
    await editor.open(sheet, readIn(place, sheet));
    await editor.findings(sheet, (now) => now.length === 0);
    const save = async (more: string) => {
      put(place, 'own.platform.yaml', platform(more));
      await editor.changedOnDisk('own.platform.yaml');
    };
    await save('files: [{ path: huts.txt, required: always }]\n');
    const huts = `${ALBAR}/huts.txt`;
    await editor.findings(huts, (now) => codes(now).includes('file/missing'));
    await save('files: [{ path: sheet.css, required: always }]\n');
    await editor.findings(huts, (now) => now.length === 0);
    await editor.open('own.platform.yaml', platform('filez: []\n'));
    const [mistake] = await editor.findings('own.platform.yaml', (now) => now.length > 0);
    expect(mistake).toMatchObject({ message: expect.stringMatching(/“filez” is not known here/) as string, range: { start: { line: 5 } } });
  });

  it('a folder that the editor takes in brings its themes', async () => {
    const place = new Workplace().withShelf();
    const editor = await Editor.start(place, 'demo/shelf/cornisa');
    put(place, `${NOCHE}/partials/footer.html`, '{{> moon}}\n');
    await editor.connection.sendNotification(DidChangeWorkspaceFoldersNotification.type, {
      event: { added: [{ uri: editor.uri(NOCHE), name: 'noche' }], removed: [] },
    });
    // A message names no place of this machine.
    const [finding] = await editor.findings(`${NOCHE}/partials/footer.html`, (now) => now.length > 0);
    expect(JSON.stringify(finding?.message)).not.toContain(place.folder);
  });
});

describe('what can be done', () => {
  const lensesOf = async (editor: Editor, path: string) =>
    (await editor.connection.sendRequest(CodeLensRequest.type, { textDocument: { uri: editor.uri(path) } })) ?? [];

  it('stands above the lines that it is about: a copy is taken, and merged when the parent has changed', async () => {
    const page = `${NOCHE}/pages/front.html`;
    const place = new Workplace().withShelf();
    put(place, page, '{{> header}}\n');
    const editor = await Editor.start(place);
    await editor.open(page, '{{> header}}\n');
    const [take] = await lensesOf(editor, page);
    expect(take).toMatchObject({ range: { start: { line: 0 } }, command: { title: 'Inherited from albar: take a copy' } });
    await editor.run(take?.command);
    const copy = `${NOCHE}/partials/header.html`;
    expect(readIn(place, copy)).toBe(readIn(place, `${ALBAR}/partials/header.html`));
    put(place, `${ALBAR}/partials/header.html`, `${readIn(place, `${ALBAR}/partials/header.html`)}<!-- newer -->\n`);
    await editor.changedOnDisk(`${ALBAR}/partials/header.html`);
    const lenses = await lensesOf(editor, copy);
    expect(lenses.map(({ command }) => command?.title)).toEqual([
      'Copied from albar 2.3.0, changed there since: show',
      'Merge',
      'Inherited from albar: take a copy',
    ]);
    await editor.run(lenses[1]?.command);
    expect(readIn(place, copy)).toContain('<!-- newer -->');
  });

  it('with the theme stands above its manifest, and is told', async () => {
    const sheet = `${ALBAR}/sheet.css`;
    const { editor, place } = await opened(sheet);
    const [rehearse, pack] = await lensesOf(editor, sheet);
    await editor.run(rehearse?.command);
    await editor.run(pack?.command);
    expect(editor.messages).toEqual([
      '✓ albar is recognized by a fresh stand-in Vereda host as “Albar”',
      '✓ albar.zip holds 53 files in 79.9 kB, verified',
    ]);
    await editor.type(sheet, 'version: 2.3.0', 'version: 2.3.1');
    await expect(editor.run(pack?.command)).rejects.toThrow(/sheet\.css is not saved/);
    await expect(editor.run({ title: '', command: 'pionero.pack', arguments: [place.path('demo')] })).rejects.toThrow(/folder of a theme/);
  });
});

describe('an editor that does not keep to the rules', () => {
  it('does no harm: early questions, broken messages, places that are not there, large texts', async () => {
    const place = new Workplace().withShelf();
    const child = spawn(process.execPath, [PROGRAM, 'language-server', '--stdio'], { cwd: place.folder, env: place.env });
    let said = '';
    child.stdout.setEncoding('utf8').on('data', (text: string) => (said += text));
    const send = (message: object): void => {
      const body = JSON.stringify({ jsonrpc: '2.0', ...message });
      child.stdin.write(`Content-Length: ${Buffer.byteLength(body)}\r\n\r\n${body}`);
    };
    const until = async (pattern: RegExp): Promise<void> => {
      for (let i = 0; i < 1000 && !pattern.test(said); i++) await new Promise((resolve) => setTimeout(resolve, 10));
      expect(said).toMatch(pattern);
    };
    const uri = pathToFileURL(place.path(`${ALBAR}/sheet.css`)).href;
    send({ id: 1, method: 'textDocument/hover', params: { textDocument: { uri }, position: { line: 0, character: 0 } } });
    await until(/"id":1,"error":\{"code":-32002/);
    send({ id: 2, method: 'initialize', params: { processId: null, rootUri: null, capabilities: {} } });
    await until(/"id":2,"result"/);
    send({ method: 'initialized', params: {} });
    child.stdin.write('Content-Length: 5\r\n\r\n{no}!');
    send({
      method: 'textDocument/didOpen',
      params: { textDocument: { uri, languageId: 'css', version: 1, text: `/* ${'x'.repeat(50_000_000)} */` } },
    });
    send({ id: 3, method: 'textDocument/hover', params: { textDocument: { uri }, position: { line: 900, character: 900 } } });
    await until(/"id":3,"result":null/);
    send({
      id: 4,
      method: 'textDocument/definition',
      params: { textDocument: { uri: 'untitled:1' }, position: { line: 0, character: 0 } },
    });
    await until(/"id":4,"result":null/);
    const ended = new Promise((resolve) => child.on('close', resolve));
    child.stdin.end();
    await ended;
  });
});

describe('a comment that accepts a finding', () => {
  it.each<[where: string, path: string, line: string, wrong: string, texts: string[]]>([
    ['a page', `${ALBAR}/pages/front.html`, '{{> footer}}', '{{> nowhere}}', ['<!-- pionero-accept template/partial: -->\n']],
    [
      'a stylesheet',
      `${ALBAR}/styles/albar-base.css`,
      '',
      '.a { background: url(nowhere.png) }\n',
      ['/* pionero-accept asset/missing: */\n'],
    ],
    // It would end the comment that the fields stand in.
    ['a comment', `${ALBAR}/sheet.css`, 'version: 2.3.0', 'version: two', []],
  ])('in %s is one of its language, or is not offered', async (_where, path, line, wrong, texts) => {
    const { editor } = await opened(path);
    await editor.type(path, line, wrong);
    const findings = await editor.findings(path, (now) => now.some(({ severity }) => severity === 1));
    const finding = findings.find(({ severity }) => severity === 1);
    const actions = await editor.connection.sendRequest(CodeActionRequest.type, {
      textDocument: { uri: editor.uri(path) },
      range: finding?.range ?? { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } },
      context: { diagnostics: [] },
    });
    const accepting = actions?.filter(({ title }) => title.startsWith('Accept')) as { edit: { documentChanges: TextDocumentEdit[] } }[];
    const written = accepting.flatMap(({ edit }) => edit.documentChanges[0]?.edits as { newText: string }[]);
    expect(written.map(({ newText }) => newText)).toEqual(texts);
  });
});

describe('what is known of a place', () => {
  const manifest = `${NOCHE}/sheet.css`;
  const footer = `${NOCHE}/partials/footer.html`;
  const header = `${ALBAR}/partials/header.html`;
  const front = `${ALBAR}/pages/front.html`;

  it.each<[path: string, words: string, says: RegExp]>([
    [manifest, 'parent: alb', /\*\*Albar\*\* 2\.3\.0[^]*`parent` of the header of sheet\.css: parent/],
    [manifest, 'hosts: ', /`hosts` of the header of sheet\.css: range; required[^]*releases of Vereda/],
    [front, '{{> hut-c', /`partials\/hut-cards\.html` of this theme/],
    [header, 'pictures/albar-m', /`pictures\/albar-mark\.svg` of this theme/],
  ])('%s, at %j, is told when one points at it', async (path, words, says) => {
    const { editor } = await opened(path);
    const hover = await editor.connection.sendRequest(HoverRequest.type, editor.behind(path, words));
    expect(hover?.contents).toHaveProperty('value', expect.stringMatching(says));
  });

  it.each<[path: string, words: string, leads: string]>([
    [manifest, 'parent: alb', `${ALBAR}/sheet.css`],
    [front, '{{> hea', `${ALBAR}/partials/head.html`],
    [header, 'pictures/albar-m', `${ALBAR}/pictures/albar-mark.svg`],
    [`${ALBAR}/sheet.css`, 'styles/albar-b', `${ALBAR}/styles/albar-base.css`],
  ])('%s, at %j, leads to %s', async (path, words, leads) => {
    const { editor } = await opened(path);
    const found = (await editor.connection.sendRequest(DefinitionRequest.type, editor.behind(path, words))) as Location[];
    expect(found.map(({ uri }) => uri)).toEqual([editor.uri(leads)]);
  });

  it('a child’s page leads to the parent’s partial, and the partial to all that include it', async () => {
    const { editor } = await opened(footer, header);
    await editor.type(footer, 'Good night', '{{> header}}Good night');
    const found = (await editor.connection.sendRequest(DefinitionRequest.type, editor.behind(footer, '{{> head'))) as Location[];
    expect(found.map(({ uri }) => uri)).toEqual([editor.uri(header)]);
    const uses =
      (await editor.connection.sendRequest(ReferencesRequest.type, {
        ...editor.behind(header, '<'),
        context: { includeDeclaration: false },
      })) ?? [];
    expect(uses.map(({ uri }) => uri)).toEqual(
      expect.arrayContaining([editor.uri(front), editor.uri(footer), editor.uri(`${ALBAR}/main.html`)]),
    );
  });

  it('links and the outline of a file', async () => {
    const { editor } = await opened(front, manifest);
    const links = (await editor.connection.sendRequest(DocumentLinkRequest.type, { textDocument: { uri: editor.uri(front) } })) ?? [];
    expect(links.map(({ target }) => target)).toEqual(
      expect.arrayContaining([editor.uri(`${ALBAR}/partials/footer.html`), editor.uri(`${ALBAR}/scripts/albar.min.js`)]),
    );
    const symbols =
      (await editor.connection.sendRequest(DocumentSymbolRequest.type, { textDocument: { uri: editor.uri(manifest) } })) ?? [];
    expect(symbols.map(({ name }) => name)).toEqual(expect.arrayContaining(['title', 'version', 'parent', 'parent-sheet']));
  });
});

describe('what can be written', () => {
  it.each<[what: string, path: string, old: string, typed: string, has: string[]]>([
    ['partials of the chain', `${NOCHE}/partials/footer.html`, 'Good night', '{{> he', ['head', 'header', 'hut-cards']],
    [
      'files of the theme',
      `${ALBAR}/sheet.css`,
      'url("pictures/paper.png")',
      'url("pict',
      ['pictures/paper.png', 'pictures/albar-mark.svg'],
    ],
    ['the parents on the shelf', `${NOCHE}/sheet.css`, 'parent: albar', 'parent: al', ['albar', 'cornisa']],
    ['fields that are missing', `${NOCHE}/sheet.css`, 'summary:', 'ta', ['tags', 'homepage', 'summary']],
    ['the choices of a field', `${NOCHE}/sheet.css`, 'parent-sheet: before', 'parent-sheet: be', ['before', 'none']],
    ['licenses', `${NOCHE}/sheet.css`, 'license: GPL-2.0-or-later', 'license: M', ['MIT', 'MPL-2.0']],
  ])('%s', async (_what, path, old, typed, has) => {
    const { editor } = await opened(path);
    await editor.type(path, old, typed);
    const items = (await editor.connection.sendRequest(CompletionRequest.type, editor.behind(path, typed))) as CompletionItem[];
    expect(items.map(({ label }) => label)).toEqual(expect.arrayContaining(has));
  });
});

describe('another name', () => {
  const edits = (edit: unknown) =>
    ((edit as { documentChanges: TextDocumentEdit[] }).documentChanges ?? []).map((change) =>
      'textDocument' in change
        ? [change.textDocument.uri.split('/shelf/')[1], (change.edits as { newText: string }[]).map(({ newText }) => newText)]
        : change,
    );

  it('of a partial changes every include, and the file', async () => {
    const front = `${ALBAR}/pages/front.html`;
    const { editor } = await opened(front);
    const at = editor.behind(front, '{{> hut-c');
    expect(await editor.connection.sendRequest(PrepareRenameRequest.type, at)).toMatchObject({ placeholder: 'hut-cards' });
    const edit = await editor.connection.sendRequest(RenameRequest.type, { ...at, newName: 'hut-tiles' });
    expect(edits(edit)).toEqual([
      ['albar/pages/front.html', ['hut-tiles']],
      { kind: 'rename', oldUri: editor.uri(`${ALBAR}/partials/hut-cards.html`), newUri: editor.uri(`${ALBAR}/partials/hut-tiles.html`) },
    ]);
  });

  it('of a file that the editor’s tree moves changes what names it', async () => {
    const { editor } = await opened(`${ALBAR}/sheet.css`);
    const files = [{ oldUri: editor.uri(`${ALBAR}/pictures/paper.png`), newUri: editor.uri(`${ALBAR}/pictures/ground/paper.png`) }];
    const edit = await editor.connection.sendRequest(WillRenameFilesRequest.type, { files });
    expect(edits(edit)).toEqual(expect.arrayContaining([['albar/sheet.css', expect.arrayContaining(['pictures/ground/paper.png'])]]));
  });

  it('of a parent’s partial carries the children’s copies along, and what is the parent’s is not renamed in a child', async () => {
    const place = new Workplace().withShelf();
    put(place, `${NOCHE}/main.html`, '{{> footer}}{{> header}}\n');
    const editor = await Editor.start(place);
    const page = `${ALBAR}/pages/front.html`;
    await editor.open(page, readIn(place, page));
    await editor.open(`${NOCHE}/main.html`, readIn(place, `${NOCHE}/main.html`));
    const edit = await editor.connection.sendRequest(RenameRequest.type, { ...editor.behind(page, '{{> foo'), newName: 'feet' });
    expect(edits(edit)).toEqual(
      expect.arrayContaining([
        ['albar-noche/main.html', ['feet']],
        ...[ALBAR, NOCHE].map((theme) => ({
          kind: 'rename',
          oldUri: editor.uri(`${theme}/partials/footer.html`),
          newUri: editor.uri(`${theme}/partials/feet.html`),
        })),
      ]),
    );
    const inherited = editor.behind(`${NOCHE}/main.html`, '{{> hea');
    expect(await editor.connection.sendRequest(PrepareRenameRequest.type, inherited)).toBeNull();
  });

  it('of a theme’s folder is offered to be that of the theme', async () => {
    const child = `${NOCHE}/sheet.css`;
    const { editor, place } = await opened(child);
    renameSync(place.path(ALBAR), place.path('demo/shelf/laura'));
    const files = [{ oldUri: editor.uri(ALBAR), newUri: editor.uri('demo/shelf/laura') }];
    const moved = async () => editor.connection.sendNotification(DidRenameFilesNotification.type, { files });
    await editor.type(child, 'parent: albar', 'parent:  albar');
    await moved();
    // Its children are written, too.
    await editor.message(/albar-noche\/sheet\.css is not saved/);
    await editor.type(child, 'parent:  albar', 'parent: albar');
    await moved();
    await editor.message(/^✓ nothing is called albar any more/);
    expect(editor.messages[0]).toBe('The folder of albar is called laura now: is the theme to be renamed to laura in all its files?');
    expect(readIn(place, 'demo/shelf/laura/sheet.css')).not.toContain('albar-');
    expect(readIn(place, child)).toContain('parent: laura');
    // As an editor reads a file again that was changed.
    await editor.type(child, 'parent: albar', 'parent: laura');
    await editor.findings(child, (now) => now.length === 0);
  });

  it('leads nowhere outside of the theme, and waits for what is not saved in a child', async () => {
    const front = `${ALBAR}/pages/front.html`;
    const { editor } = await opened(front, `${NOCHE}/sheet.css`, `${ALBAR}/sheet.css`);
    const rename = async (path: string, words: string, newName: string) =>
      editor.connection.sendRequest(RenameRequest.type, { ...editor.behind(path, words), newName });
    await expect(rename(front, '{{> hut-c', '../../../norte')).rejects.toThrow(/does not lie in the theme/);
    await expect(rename(`${ALBAR}/sheet.css`, 'pictures/pap', '../../../norte.png')).rejects.toThrow(/does not lie in the theme/);
    const files = [{ oldUri: editor.uri(`${ALBAR}/pictures/paper.png`), newUri: editor.uri('paper.png') }];
    expect(await editor.connection.sendRequest(WillRenameFilesRequest.type, { files })).toBeNull();
    await editor.type(`${NOCHE}/sheet.css`, 'parent: albar', 'parent: albar ');
    await expect(rename(front, 'class="alb', 'umbria')).rejects.toThrow(/albar-noche\/sheet\.css is not saved/);
    // A name without an ending keeps that of the file.
    expect(JSON.stringify(await rename(`${ALBAR}/sheet.css`, 'styles/alb', 'styles/umbria'))).toContain('albar/styles/umbria.css');
  });

  it('of a theme is what “pionero rename” does, from wherever it is named, with its children, and can be undone', async () => {
    const manifest = `${NOCHE}/sheet.css`;
    const { editor, place } = await opened(manifest);
    const at = editor.behind(manifest, 'parent: alb');
    expect(await editor.connection.sendRequest(PrepareRenameRequest.type, at)).toMatchObject({ placeholder: 'albar' });
    await editor.connection.sendRequest(RenameRequest.type, { ...at, newName: 'umbria' });
    expect(editor.messages).toEqual([
      expect.stringMatching(/^Rename albar to umbria: \d+ places, \d+ files and folders$/),
      expect.stringMatching(/^albar is now umbria/),
    ]);
    expect(readIn(place, manifest)).toContain('parent: umbria');
    expect(readIn(place, 'demo/shelf/umbria/sheet.css')).toContain('styles/umbria-base.css');
    expect((await place.run('undo', '--yes')).status).toBe(0);
    expect(readIn(place, manifest)).toContain('parent: albar');
    expect(existsSync(place.path('demo/shelf/umbria'))).toBe(false);
  });
});
