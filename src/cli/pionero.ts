#!/usr/bin/env node
import * as engine from 'node:module';
import { codeFolder } from './own-folders.ts';

// Keeps what the engine made of the program, where it offers to (Node.js 22 and later): told apart by release, architecture and flags.
(engine as { enableCompileCache?(folder: string): unknown }).enableCompileCache?.(codeFolder(process.env));
const load = engine.createRequire(__filename);
void (load('./program.cjs') as typeof import('./main.ts')).main();
