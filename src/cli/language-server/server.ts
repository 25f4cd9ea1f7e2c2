import { dirname, join } from 'node:path';
import {
  CodeActionKind,
  createConnection,
  ProposedFeatures,
  ResponseError,
  TextDocuments,
  TextDocumentSyncKind,
  DidChangeWatchedFilesNotification,
  ErrorCodes,
  type InitializeParams,
  type InitializeResult,
  type Position,
} from 'vscode-languageserver/node';
import { TextDocument } from 'vscode-languageserver-textdocument';
import { completionsAt } from '../../core/editor/completions.ts';
import { ownCompletions } from '../../core/editor/own-files.ts';
import { EditorWorkspace, type EditedFile } from '../../core/editor/editor-workspace.ts';
import { PioneroError } from '../../core/errors.ts';
import { TOOL_FOLDERS } from '../../core/files/disk-tree.ts';
import { kindOnDisk } from '../../core/files/disk.ts';
import { shippedFolder } from '../../core/platform/load.ts';
import { findThemes } from '../../core/theme/find-themes.ts';
import type { Context } from '../command.ts';
import { actionsIn } from './actions.ts';
import { completionItem, declarationsAt, definitionsOf, linksIn, referencesAt, spotAt, symbolsOf } from './answers.ts';
import { COMMANDS, runCommand } from './commands.ts';
import { diagnosticsOf } from './diagnostics.ts';
import { HouseRules } from './house-rules.ts';
import { hoverAt, ownHover } from './hover.ts';
import { lensesOf } from './lenses.ts';
import { Judge } from './judge.ts';
import { movedEdits, offerRename } from './moves.ts';
import { pathOf, rangeIn, rangeOf, uriOf } from './places.ts';
import { renameAt, renameRangeAt } from './rename.ts';
import type { Session } from './session.ts';

/** The server's offer (Language Server Protocol 3.17, “Server Capabilities”). */
const CAPABILITIES: InitializeResult['capabilities'] = {
  // The one that every client has.
  positionEncoding: 'utf-16',
  textDocumentSync: { openClose: true, change: TextDocumentSyncKind.Incremental, save: true },
  hoverProvider: true,
  completionProvider: { triggerCharacters: ['>', '"', "'", '/', ':', '=', '{', '('] },
  definitionProvider: true,
  referencesProvider: true,
  documentLinkProvider: {},
  documentSymbolProvider: true,
  codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix] },
  renameProvider: { prepareProvider: true },
  codeLensProvider: {},
  executeCommandProvider: { commands: [...COMMANDS] },
  workspace: {
    workspaceFolders: { supported: true, changeNotifications: true },
    fileOperations: {
      willRename: { filters: [{ scheme: 'file', pattern: { glob: '**/*', matches: 'file' } }] },
      didRename: { filters: [{ scheme: 'file', pattern: { glob: '**/*', matches: 'folder' } }] },
    },
  },
};

/** The error of a request that is right and cannot be done (Language Server Protocol 3.17, `LSPErrorCodes.RequestFailed`). */
const REQUEST_FAILED = -32_803;

/** Speaks with an editor over two streams, until it says good-bye. */
export async function serveEditor(context: Context, input: NodeJS.ReadableStream, output: NodeJS.WritableStream): Promise<void> {
  const connection = createConnection(ProposedFeatures.all, input, output);
  const documents = new TextDocuments(TextDocument);
  const workspace = new EditorWorkspace({ ...context.opening, currentFolder: '/' });
  const page = rulesPage();
  const shown = new Map<string, string>();
  const judge = new Judge(
    workspace,
    new HouseRules(context, workspace),
    (file, told) => {
      const uri = uriOf(file);
      const diagnostics = diagnosticsOf(told, page, workspace.themeFolderOf(file));
      const isOpen = documents.get(uri) !== undefined;
      const text = JSON.stringify(diagnostics);
      if ((shown.get(uri) ?? (isOpen ? undefined : '[]')) === text) return;
      shown.set(uri, text);
      void connection.sendDiagnostics({ uri, diagnostics, ...versionOf(documents, uri) });
    },
    (message) => connection.console.error(message),
  );
  const parts = { context, connection, documents, workspace, judge };
  const session = { ...parts, client: takeFolders(parts) };
  const take = (uri: string, text: string | undefined): void => {
    const file = pathOf(uri);
    if (file === undefined) return;
    workspace.setText(file, text);
    judge.changed(file);
  };
  documents.onDidOpen(({ document: { uri } }) => shown.delete(uri));
  documents.onDidChangeContent(({ document }) => take(document.uri, document.getText()));
  documents.onDidClose(({ document }) => take(document.uri, undefined));
  answerQuestions(session);
  await new Promise<void>((resolve) => {
    connection.onExit(() => resolve());
    documents.listen(connection);
    connection.listen();
  });
  judge.close();
}

function versionOf(documents: Session['documents'], uri: string): { version?: number } {
  const version = documents.get(uri)?.version;
  return version === undefined ? {} : { version };
}

/** Follows the themes in the folders that the editor has open, as they come and go. @returns what the editor can do, once it has begun */
function takeFolders({ context, connection, documents, workspace, judge }: Omit<Session, 'client'>): Session['client'] {
  let client: InitializeParams['capabilities'] | undefined;
  const look = (): void =>
    judge.follow(
      workspace.homes.flatMap((home) => workspace.themeFolderOf(join(home, 'x')) ?? findThemes(home, context.platforms()).themes),
    );
  connection.onInitialize((params) => {
    client = params.capabilities;
    const folders = params.workspaceFolders?.map(({ uri }) => uri) ?? (params.rootUri == null ? [] : [params.rootUri]);
    workspace.homes = folders.flatMap((uri) => pathOf(uri) ?? []);
    return { capabilities: CAPABILITIES, serverInfo: { name: 'pionero', version: context.version } };
  });
  connection.onInitialized(() => {
    if (client?.workspace?.didChangeWatchedFiles?.dynamicRegistration === true)
      void connection.client.register(DidChangeWatchedFilesNotification.type, { watchers: [{ globPattern: '**/*' }] });
    if (client?.workspace?.workspaceFolders === true)
      connection.workspace.onDidChangeWorkspaceFolders(({ added, removed }) => {
        const gone = new Set(removed.map(({ uri }) => pathOf(uri)));
        workspace.homes = [...workspace.homes.filter((home) => !gone.has(home)), ...added.flatMap(({ uri }) => pathOf(uri) ?? [])];
        look();
      });
    look();
  });
  const onDisk = (uris: readonly string[]): void => {
    const files = uris.flatMap((uri) => pathOf(uri) ?? []).filter((file) => !file.split(/[/\\]/).some((part) => TOOL_FOLDERS.has(part)));
    if (files.length === 0) return;
    if (judge.onDisk(files)) look();
  };
  documents.onDidSave(({ document: { uri } }) => onDisk([uri]));
  connection.onDidChangeWatchedFiles(({ changes }) => onDisk(changes.map(({ uri }) => uri)));
  return () => client;
}

/** The address of the page on rules that is shipped with the program; undefined when it is not there. */
function rulesPage(): string | undefined {
  const page = join(dirname(shippedFolder()), 'docs/rules.md');
  return kindOnDisk(page) === 'file' ? uriOf(page) : undefined;
}

interface At {
  readonly textDocument: { readonly uri: string };
  readonly position: Position;
}

function answerQuestions(session: Session): void {
  const { connection, documents, workspace, judge } = session;
  const fileOf = (uri: string): EditedFile | undefined => {
    if (session.client() === undefined) throw new ResponseError(ErrorCodes.ServerNotInitialized, 'the first request is “initialize”');
    const path = pathOf(uri);
    return path === undefined ? undefined : workspace.fileAt(path);
  };
  /** A file of Pionero's own that is open: its path and text, and the offset of a place. */
  const ownAt = ({ textDocument: { uri }, position }: At): [file: string, text: string, offset: number] => {
    const document = documents.get(uri);
    return [pathOf(uri) ?? '', document?.getText() ?? '', document?.offsetAt(position) ?? 0];
  };
  /** Answers about a place in a file of a theme; with nothing where it is in none. */
  const at =
    <T>(answer: (file: EditedFile, offset: number) => T) =>
    ({ textDocument: { uri }, position }: At): T | null => {
      const file = fileOf(uri);
      const document = documents.get(uri);
      return file === undefined || document === undefined ? null : answer(file, document.offsetAt(position));
    };
  const about =
    <T>(answer: (file: EditedFile) => T) =>
    ({ textDocument: { uri } }: Pick<At, 'textDocument'>): T | null => {
      const file = fileOf(uri);
      return file === undefined ? null : answer(file);
    };
  connection.onHover((params) => {
    const own = ownHover(documents.get(params.textDocument.uri), ...ownAt(params));
    return own ?? at((file, offset) => hoverAt(session, file, offset))(params);
  });
  connection.onCompletion((params) => {
    const document = documents.get(params.textDocument.uri);
    const own = document === undefined ? undefined : ownCompletions(...ownAt(params));
    if (document !== undefined && own !== undefined) return own.map((each, i) => completionItem(rangeIn(document, each), each, i));
    return at((file, offset) => {
      const source = file.theme.source(file.path);
      return completionsAt(file, offset).map((each, i) => completionItem(rangeOf(source, each), each, i));
    })(params);
  });
  connection.onCodeLens(async (params) => about(async (file) => lensesOf(session, file))(params));
  connection.onExecuteCommand(async (params, cancelled, progress) => told(async () => runCommand(session, params, cancelled, progress)));
  connection.onDefinition(
    at((file, offset) => {
      const spot = spotAt(file, offset);
      return spot === undefined ? declarationsAt(file, offset) : definitionsOf(file, spot.target);
    }),
  );
  connection.onReferences(at((file, offset) => referencesAt(session, file, offset)));
  connection.onDocumentLinks(about(linksIn));
  connection.onDocumentSymbol(about(symbolsOf));
  connection.onCodeAction(({ textDocument, range }) => about((file) => actionsIn(session, file, range))({ textDocument }));
  connection.onPrepareRename(at((file, offset) => renameRangeAt(file, offset) ?? null));
  connection.onRenameRequest(async (params) =>
    told(async () => at(async (file, offset) => renameAt(session, file, offset, params.newName))(params)),
  );
  connection.workspace.onWillRenameFiles(async ({ files }) => told(async () => movedEdits(session, files)));
  connection.workspace.onDidRenameFiles(({ files }) => void orTold(session, async () => offerRename(session, files)));
  connection.onShutdown(() => judge.close());
}

/** What nobody waits for must not end the server when it fails: people read why. */
async function orTold({ connection }: Session, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (error instanceof PioneroError) connection.window.showWarningMessage([error.what, error.hint].filter(Boolean).join(': '));
    else connection.console.error(String(error));
  }
}

/** An error that the user can fix is an answer of the protocol, not a defect. */
async function told<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof PioneroError)) throw error;
    const { what, why, hint } = error;
    throw new ResponseError(REQUEST_FAILED, [what, why, hint].filter((part) => part !== undefined).join('; '));
  }
}
