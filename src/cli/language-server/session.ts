import type { ClientCapabilities, Connection, TextDocuments } from 'vscode-languageserver/node';
import type { TextDocument } from 'vscode-languageserver-textdocument';
import type { EditorWorkspace } from '../../core/editor/editor-workspace.ts';
import type { Context } from '../command.ts';
import type { Judge } from './judge.ts';

/** All that answers to an editor are made of. */
export interface Session {
  readonly context: Context;
  readonly connection: Connection;
  readonly documents: TextDocuments<TextDocument>;
  readonly workspace: EditorWorkspace;
  readonly judge: Judge;
  /** The editor's abilities; undefined before it has begun as the protocol says. */
  readonly client: () => ClientCapabilities | undefined;
}
