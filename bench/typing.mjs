// An editor that types in a large theme, over the Language Server Protocol: how long until what is typed is judged, and how much memory
// the server holds.
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { createProtocolConnection, StreamMessageReader, StreamMessageWriter } from 'vscode-languageserver-protocol/node';

/**
 * Types a mistake into a file and takes it back, so many times.
 * @param mistake how a text is made wrong, in a way that a rule finds
 * @returns milliseconds from each keystroke to its findings, and kilobytes of memory at most
 */
export async function typeIn(program, folder, file, mistake, times) {
  const child = spawn(process.execPath, [program, 'language-server', '--stdio'], { stdio: ['pipe', 'pipe', 'inherit'] });
  const connection = createProtocolConnection(new StreamMessageReader(child.stdout), new StreamMessageWriter(child.stdin));
  const uri = pathToFileURL(file).href;
  let told = () => {};
  connection.onNotification('textDocument/publishDiagnostics', (params) => {
    if (params.uri === uri) told(params);
  });
  connection.onRequest('client/registerCapability', () => null);
  connection.listen();
  const rootUri = pathToFileURL(folder).href;
  await connection.sendRequest('initialize', { processId: process.pid, rootUri, capabilities: {} });
  await connection.sendNotification('initialized', {});
  const text = readFileSync(file, 'utf8');
  const first = new Promise((resolve) => (told = resolve));
  await connection.sendNotification('textDocument/didOpen', { textDocument: { uri, languageId: 'html', version: 1, text } });
  await first;
  // All of it has been judged once the machine is quiet.
  await sleep(8_000);
  const latencies = [];
  for (let version = 2; version < times + 2; version++) {
    const heard = new Promise((resolve) => {
      told = (params) => {
        if (params.version === version) resolve();
      };
    });
    const start = performance.now();
    const typed = version % 2 === 0 ? mistake(text) : text;
    await connection.sendNotification('textDocument/didChange', { textDocument: { uri, version }, contentChanges: [{ text: typed }] });
    await heard;
    latencies.push(performance.now() - start);
    await sleep(1_500);
  }
  const memory = Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))[1]);
  await connection.sendRequest('shutdown');
  await connection.sendNotification('exit');
  return { latencies, memory };
}
