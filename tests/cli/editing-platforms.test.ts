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
} from 'vscode-languageserver-protocol/node';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { fillPlace, isOneFile } from '../../src/core/theme/place.ts';
import { mainFile } from '../../src/core/theme/main-file.ts';
import { openThemeFolder } from '../../src/core/theme/open.ts';
import { Editor } from '../support/editor.ts';
import { Workplace } from '../support/program.ts';
import { writeFiles } from '../support/trees.ts';

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
    const { editor, manifest, texts, at } = await themed();
    const text = texts.find(([file]) => file === manifest)?.[1] ?? '';
    const last = text.trimEnd().split('\n').at(-1) ?? '';
    await editor.findings(manifest, (now) => now.every(({ severity }) => severity !== 1));
    await editor.type(manifest, text, `${text}\n<<<<<<< huts\n${last}\n=======\n${last}\n>>>>>>> norte\n`);
    const found = await editor.findings(manifest, (now) => now.some(({ severity }) => severity === 1));
    const { range = { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } } } =
      found.find(({ code }) => code === 'text/conflict') ?? {};
    const asked = { textDocument: at(manifest), range, context: { diagnostics: [] } };
    expect(await editor.connection.sendRequest(CodeActionRequest.type, asked)).toBeInstanceOf(Array);
    await editor.type(manifest, editor.text(manifest), text);
    await editor.findings(manifest, (now) => now.every(({ severity }) => severity !== 1));
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
      expect([word, completed.map(({ textEdit }) => textEdit?.newText).filter((each) => each === undefined)]).toEqual([word, []]);
      const renamed = await editor.connection.sendRequest(PrepareRenameRequest.type, here);
      if (renamed === null) continue;
      const edit = await editor.connection.sendRequest(RenameRequest.type, { ...here, newName: 'umbria' });
      expect([word, edit?.documentChanges?.filter((change) => 'kind' in change).length]).toEqual([word, 1]);
    }
  });
});

function wordIn(text: string, { start, end }: Range): string {
  return (text.split('\n')[start.line] ?? '').slice(start.character, end.character);
}
