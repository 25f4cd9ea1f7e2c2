// Loaded before the built program in the processes that tests start: what the engine compiled of it is kept for the length of a test run, as
// newer engines do by themselves. It takes a third of the time of a start, of which there are two hundred.
const { chmodSync, existsSync, readFileSync, renameSync, writeFileSync } = require('node:fs');
const Module = require('node:module');
const path = require('node:path');
const { Script } = require('node:vm');

const DIST = path.join(__dirname, '../../dist');
const folder = process.env.PIONERO_TESTS_COMPILED;
const compile = Module.prototype._compile;
const isOurs = (filename) => filename.startsWith(`${DIST}${path.sep}`) && folder !== undefined && existsSync(folder);
const fresh = new Map();

/** Undefined where another process has kept nothing, or for itself alone: some tests start the program under a umask, or as another user. */
function keptCode(kept) {
  try {
    return readFileSync(kept);
  } catch {
    return undefined;
  }
}

Module.prototype._compile = function (content, filename) {
  if (!isOurs(filename)) return compile.call(this, content, filename);
  const kept = path.join(folder, path.basename(filename));
  const cachedData = keptCode(kept);
  // A script that was kept has forgotten how it imports.
  const text = content.replace(/^#!.*/, '').replaceAll(/\bawait import\(/g, 'await importing(');
  const script = new Script(`(function (exports, require, module, __filename, __dirname, importing) { ${text}\n})`, {
    filename,
    cachedData,
  });
  if (cachedData === undefined || script.cachedDataRejected) fresh.set(kept, script);
  const work = script.runInThisContext();
  const importing = (name) => import(name);
  return work.call(this.exports, this.exports, Module.createRequire(filename), this, filename, path.dirname(filename), importing);
};

process.on('exit', () => {
  for (const [kept, script] of fresh) {
    const part = `${kept}.${process.pid}`;
    try {
      writeFileSync(part, script.createCachedData());
      chmodSync(part, 0o644);
      renameSync(part, kept);
    } catch {
      // A full disk, or a test run that ended: the next process compiles it again.
    }
  }
});
