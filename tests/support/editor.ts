import { spawn } from 'node:child_process';
import { pathToFileURL } from 'node:url';
import { onTestFinished } from 'vitest';
import {
  createProtocolConnection,
  DidChangeWatchedFilesNotification,
  DidChangeTextDocumentNotification,
  DidOpenTextDocumentNotification,
  ExecuteCommandRequest,
  ExitNotification,
  FileChangeType,
  InitializedNotification,
  InitializeRequest,
  PublishDiagnosticsNotification,
  ShowMessageNotification,
  ShowMessageRequest,
  ShutdownRequest,
  StreamMessageReader,
  StreamMessageWriter,
  type Command,
  type Diagnostic,
  type InitializeResult,
  type Position,
  type ProtocolConnection,
} from 'vscode-languageserver-protocol/node';
import { PROGRAM, type Workplace } from './program.ts';

/** An editor that speaks with the built program. */
export class Editor {
  readonly connection: ProtocolConnection;
  readonly #place: Workplace;
  readonly #texts = new Map<string, string>();
  readonly #told = new Map<string, Diagnostic[]>();
  #listeners: (() => void)[] = [];
  capabilities: InitializeResult['capabilities'] = {};
  /** By address: how often findings were published. */
  readonly published = new Map<string, number>();
  /** What was said to whoever sits before it. */
  readonly messages: string[] = [];

  private constructor(place: Workplace, connection: ProtocolConnection) {
    this.#place = place;
    this.connection = connection;
    connection.onNotification(PublishDiagnosticsNotification.type, ({ uri, diagnostics }) => {
      this.#told.set(uri, diagnostics);
      this.published.set(uri, (this.published.get(uri) ?? 0) + 1);
      for (const listener of this.#listeners) listener();
    });
    connection.onNotification(ShowMessageNotification.type, ({ message }) => void this.messages.push(message));
    connection.onRequest(ShowMessageRequest.type, ({ message, actions }) => {
      this.messages.push(message);
      return actions?.[0] ?? null;
    });
    connection.listen();
  }

  /** @param folder the one that is open in it */
  static async start(place: Workplace, home = '.'): Promise<Editor> {
    const child = spawn(process.execPath, [PROGRAM, 'language-server', '--stdio'], { cwd: place.folder, env: place.env });
    const connection = createProtocolConnection(new StreamMessageReader(child.stdout), new StreamMessageWriter(child.stdin));
    const editor = new Editor(place, connection);
    const ended = new Promise<void>((resolve) => child.on('close', () => resolve()));
    onTestFinished(async () => {
      await connection.sendRequest(ShutdownRequest.type);
      await connection.sendNotification(ExitNotification.type);
      await ended;
      connection.dispose();
    });
    const folder = { uri: pathToFileURL(place.path(home)).href, name: 'league' };
    const answer = await connection.sendRequest(InitializeRequest.type, {
      processId: process.pid,
      rootUri: folder.uri,
      workspaceFolders: [folder],
      capabilities: { workspace: { workspaceFolders: true } },
    });
    editor.capabilities = answer.capabilities;
    await connection.sendNotification(InitializedNotification.type, {});
    return editor;
  }

  /** Tells that a file was written, made or removed by somebody else. */
  async changedOnDisk(path: string): Promise<void> {
    const changes = [{ uri: this.uri(path), type: FileChangeType.Changed as FileChangeType }];
    await this.connection.sendNotification(DidChangeWatchedFilesNotification.type, { changes });
  }

  /** Waits until something is said. */
  async message(pattern: RegExp): Promise<void> {
    for (let i = 0; i < 1000 && !this.messages.some((each) => pattern.test(each)); i++)
      await new Promise((resolve) => setTimeout(resolve, 20));
    if (!this.messages.some((each) => pattern.test(each))) throw new Error(`never said: ${JSON.stringify(this.messages)}`);
  }

  async run(command: Command | undefined): Promise<void> {
    await this.connection.sendRequest(ExecuteCommandRequest.type, { command: '', ...command });
  }

  uri(path: string): string {
    return pathToFileURL(this.#place.path(path)).href;
  }

  async open(path: string, text: string): Promise<void> {
    this.#texts.set(path, text);
    const textDocument = { uri: this.uri(path), languageId: 'plain', version: 1, text };
    await this.connection.sendNotification(DidOpenTextDocumentNotification.type, { textDocument });
  }

  /** Replaces a part of an open text, as typing does. */
  async type(path: string, old: string, text: string): Promise<void> {
    const before = this.#texts.get(path) ?? '';
    const at = before.indexOf(old);
    if (at < 0) throw new Error(`${old} does not stand in ${path}`);
    this.#texts.set(path, before.slice(0, at) + text + before.slice(at + old.length));
    const range = { start: positionAt(before, at), end: positionAt(before, at + old.length) };
    await this.connection.sendNotification(DidChangeTextDocumentNotification.type, {
      textDocument: { uri: this.uri(path), version: this.#texts.size + before.length },
      contentChanges: [{ range, text }],
    });
  }

  /** A place in an open text: behind the first mention of some words of it. */
  behind(path: string, words: string): { textDocument: { uri: string }; position: Position } {
    const text = this.#texts.get(path) ?? '';
    const at = text.indexOf(words);
    if (at < 0) throw new Error(`${words} does not stand in ${path}`);
    return { textDocument: { uri: this.uri(path) }, position: positionAt(text, at + words.length) };
  }

  text(path: string): string {
    return this.#texts.get(path) ?? '';
  }

  /** Waits until the findings of a file are as wanted. */
  async findings(path: string, isWanted: (findings: readonly Diagnostic[]) => boolean): Promise<readonly Diagnostic[]> {
    const uri = this.uri(path);
    return new Promise((resolve, reject) => {
      const timer = setTimeout(() => reject(new Error(`never as wanted: ${JSON.stringify(this.#told.get(uri), null, 1)}`)), 20_000);
      const look = (): void => {
        const now = this.#told.get(uri);
        if (now === undefined || !isWanted(now)) return;
        clearTimeout(timer);
        this.#listeners = this.#listeners.filter((each) => each !== look);
        resolve(now);
      };
      this.#listeners.push(look);
      look();
    });
  }
}

function positionAt(text: string, offset: number): Position {
  const before = text.slice(0, offset).split('\n');
  return { line: before.length - 1, character: before.at(-1)?.length ?? 0 };
}
