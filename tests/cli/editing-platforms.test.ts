import { existsSync, readFileSync, renameSync } from 'node:fs';
import { dirname } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  CodeActionRequest,
  CodeLensRequest,
  CompletionRequest,
  DefinitionRequest,
  DocumentLinkRequest,
  DocumentSymbolRequest,
  HoverRequest,
  PrepareRenameRequest,
  ReferencesRequest,
  RenameRequest,
  type CompletionItem,
  type DocumentLink,
  type DocumentSymbol,
  type Location,
  type Range,
  type TextEdit,
} from 'vscode-languageserver-protocol/node';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { fillPlace, isOneFile } from '../../src/core/theme/place.ts';
import { mainFile } from '../../src/core/theme/main-file.ts';
import { openThemeFolder } from '../../src/core/theme/open.ts';
import { Editor } from '../support/editor.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

const withParents = shippedPlatforms()
  .filter(({ contract }) => contract.inheritance.kind !== 'none')
  .map((platform) => [platform.contract.name, platform] as const);

/** Of the kits that are made here: one file, layouts that the host finds, folders of icons. */
const NAMES_NO_FILE = new Set(['marp', 'horquilla', 'icons']);

describe.each(shippedPlatforms().map((platform) => [platform.contract.name, platform] as const))('an editor on %s', (name, platform) => {
  const themed = async () => {
    const place = new Workplace();
    writeFiles(place.folder, { 'pionero.yaml': `platform: ${name}\n`, 'themes/.keep': '' });
    const vendor = platform.contract.vendor === undefined ? [] : ['--vendor', 'HutLeague'];
    const made = await place.run('new', 'albar', '--kit', 'standard', ...vendor, '--to', 'themes', '--yes');
    expect([made.status, made.stderr]).toEqual([0, '']);
    const path = `themes/${fillPlace(platform, { id: 'albar', vendor: 'HutLeague' })}`;
    const { theme } = openThemeFolder(place.path(path), { currentFolder: place.folder });
    const of = (file: string): string => (isOneFile(platform) ? path : `${path}/${file}`);
    const texts = theme.tree.entries.flatMap(({ path: file }): [string, string][] => {
      const source = theme.source(file);
      return source === undefined ? [] : [[of(file), source.text]];
    });
    const editor = await Editor.start(place);
    for (const [file, text] of texts) await editor.open(file, text);
    return { place, editor, texts, manifest: of(mainFile(theme)), at: (file: string) => ({ uri: editor.uri(file) }) };
  };

  it('shows what its document says, and what can be done with the theme', async () => {
    const { editor, manifest, at } = await themed();
    const about = { textDocument: at(manifest) };
    const symbols = ((await editor.connection.sendRequest(DocumentSymbolRequest.type, about)) ?? []) as DocumentSymbol[];
    const hovers = await Promise.all(
      symbols.map(async ({ range: { start } }) => editor.connection.sendRequest(HoverRequest.type, { ...about, position: start })),
    );
    expect([symbols.length > 0, hovers.some((hover) => hover !== null)]).toEqual([true, true]);
    const lenses = await editor.connection.sendRequest(CodeLensRequest.type, about);
    expect(lenses?.slice(0, 2).map(({ command }) => command?.title)).toEqual(['Rehearse', 'Pack']);
  });

  it('finds what is wrong in a file while it is typed, and what can be done about it', async () => {
    const { editor, texts, at } = await themed();
    const mistake = '<<<<<<< huts\na\n=======\nb\n>>>>>>> norte\n';
    const offered: string[] = [];
    for (const [file, text] of texts) {
      await editor.type(file, text, `${text}\n${mistake}`);
      const found = await editor.findings(file, (now) => now.some(({ severity }) => severity === 1));
      const { range } = found.find(({ code }) => code === 'text/conflict') ?? {};
      if (range !== undefined) {
        const asked = { textDocument: at(file), range, context: { diagnostics: [] } };
        for (const { title } of (await editor.connection.sendRequest(CodeActionRequest.type, asked)) ?? []) offered.push(title);
      }
      await editor.type(file, editor.text(file), text);
      await editor.findings(file, (now) => now.every(({ severity }) => severity !== 1));
    }
    // Not every language has comments, but one of each platform has.
    expect(offered).toContain('Accept text/conflict here, with a reason');
  });

  it('leads from each name of a file to that file and back, completes it, and renames it', async () => {
    const { editor, texts, at } = await themed();
    const linked: [file: string, text: string, link: DocumentLink][] = [];
    for (const [file, text] of texts)
      for (const link of (await editor.connection.sendRequest(DocumentLinkRequest.type, { textDocument: at(file) })) ?? [])
        linked.push([file, text, link]);
    expect([name, linked.length > 0]).toEqual([name, !NAMES_NO_FILE.has(name)]);
    for (const [file, text, { range, target }] of linked) {
      const here = { textDocument: at(file), position: range.start };
      const word = wordIn(text, range);
      const definition = (await editor.connection.sendRequest(DefinitionRequest.type, here)) as Location[];
      const references = await editor.connection.sendRequest(ReferencesRequest.type, { ...here, context: { includeDeclaration: true } });
      const hover = await editor.connection.sendRequest(HoverRequest.type, here);
      expect([word, definition.map(({ uri }) => uri), hover === null]).toEqual([word, [target], false]);
      expect(references?.map((each) => `${each.uri} ${JSON.stringify(each.range)}`)).toContain(`${at(file).uri} ${JSON.stringify(range)}`);
      const completed = (await editor.connection.sendRequest(CompletionRequest.type, { ...here, position: range.end })) as CompletionItem[];
      // It is among what can stand there.
      const lines = text.split('\n');
      const typed = completed.flatMap(({ textEdit }) => (textEdit !== undefined && 'range' in textEdit ? [withEdit(lines, textEdit)] : []));
      expect([word, typed.includes(lines[range.start.line] ?? '')]).toEqual([word, true]);
      const renamed = await editor.connection.sendRequest(PrepareRenameRequest.type, here);
      if (renamed === null) continue;
      const edit = await editor.connection.sendRequest(RenameRequest.type, { ...here, newName: 'umbria' });
      expect([word, edit?.documentChanges?.filter((change) => 'kind' in change).length]).toEqual([word, 1]);
    }
  });
});

describe.each(withParents)('an editor on %s', (name, platform) => {
  const family = async () => {
    const place = new Workplace();
    writeFiles(place.folder, { 'pionero.yaml': `platform: ${name}\n`, 'themes/.keep': '' });
    const vendor = platform.contract.vendor === undefined ? [] : ['--vendor', 'HutLeague'];
    const where = [...vendor, '--to', 'themes', '--shelf', 'themes', '--yes'];
    const made = [
      await place.run('new', 'albar', '--kit', 'standard', ...where),
      await place.run('new', 'cierzo', '--kit', 'child', '--parent', 'albar', ...where),
    ];
    expect(made.map(({ stderr }) => stderr)).toEqual(['', '']);
    const main = (id: string): string => {
      const path = `themes/${fillPlace(platform, { id, vendor: 'HutLeague' })}`;
      const { theme } = openThemeFolder(place.path(path), { currentFolder: place.folder, shelves: ['themes'] });
      return isOneFile(platform) ? path : `${path}/${mainFile(theme)}`;
    };
    const [parent, child] = [main('albar'), main('cierzo')];
    const editor = await Editor.start(place);
    for (const file of [parent, child]) await editor.open(file, readFileSync(place.path(file), 'utf8'));
    return { place, editor, parent, child };
  };

  it('misses a parent that is away, and judges no theme by the text of another', async () => {
    const { place, editor, parent, child } = await family();
    const text = editor.text(child);
    await editor.findings(child, (now) => now.every(({ severity }) => severity !== 1));
    await editor.type(child, text, `${text}\n<<<<<<< huts\na\n=======\nb\n>>>>>>> norte\n`);
    await editor.findings(child, (now) => now.some(({ severity }) => severity === 1));
    expect((await editor.findings(parent, () => true)).filter(({ severity }) => severity === 1)).toEqual([]);
    await editor.type(child, editor.text(child), text);
    const home = place.path(isOneFile(platform) ? parent : dirname(parent));
    renameSync(home, place.path('away'));
    await editor.changedOnDisk(parent);
    await editor.findings(child, (now) => now.some(({ code }) => code === 'parent/missing'));
    renameSync(place.path('away'), home);
    await editor.changedOnDisk(parent);
    await editor.findings(child, (now) => now.every(({ severity }) => severity !== 1));
  });

  it('renames the parent from where the child names it, with the child', async () => {
    const { place, editor, parent, child } = await family();
    const at = { ...editor.behind(child, 'alba') };
    const definition = (await editor.connection.sendRequest(DefinitionRequest.type, at)) as Location[];
    expect(definition.map(({ uri }) => uri)).toEqual([editor.uri(parent)]);
    expect(await editor.connection.sendRequest(PrepareRenameRequest.type, at)).toMatchObject({ placeholder: 'albar' });
    await editor.connection.sendRequest(RenameRequest.type, { ...at, newName: 'umbria' });
    expect(readFileSync(place.path(child), 'utf8')).toContain('umbria');
    expect(existsSync(place.path(parent))).toBe(false);
    await place.run('undo', '--yes');
    expect(readFileSync(place.path(child), 'utf8')).toBe(editor.text(child));
  });
});

/** The line of an edit after it. */
function withEdit(lines: readonly string[], { range: { start, end }, newText }: TextEdit): string {
  const line = lines[start.line] ?? '';
  return line.slice(0, start.character) + newText + line.slice(end.character);
}

function wordIn(text: string, { start, end }: Range): string {
  return (text.split('\n')[start.line] ?? '').slice(start.character, end.character);
}
