import { flag, text, whole, type Values } from '../option.ts';
import { shellWord } from '../../core/text/shell-word.ts';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { realDiskWriter } from '../../core/changes/disk-writer.ts';
import { UsageError } from '../../core/errors.ts';
import { isPrivateOnDisk, kindOnDisk, readIfThere } from '../../core/files/disk.ts';
import { catalogueApp } from '../../core/web/catalogue-app.ts';
import { CatalogueStore } from '../../core/web/catalogue-store.ts';
import { serveLoopback } from '../../core/web/loopback.ts';
import { actionOf } from '../actions.ts';
import { defineCommand, type Context } from '../command.ts';
import { isFolderWanted } from '../confirm.ts';
import { userPlatformFolder } from '../own-folders.ts';
import { ExitStatus } from '../exit-status.ts';

const MAX_BYTES = 64 << 20;

const OPTIONS = {
  data: text('DIR', 'the folder that the catalogue keeps everything in'),
  port: whole('NUMBER', 'the port; default: any that is free', { from: 0, to: 65_535 }, 0),
  maxBytes: whole('NUMBER', 'the largest archive that is taken in', { from: 1 }, MAX_BYTES),
  yes: flag('do not ask before the folder is made'),
};
type Options = Values<typeof OPTIONS>;

const ACTIONS = { serve };

export default defineCommand({
  arguments: [{ form: '<action>', about: Object.keys(ACTIONS).join(', '), choices: Object.keys(ACTIONS) }],
  options: OPTIONS,
  examples: ['pionero catalogue serve --data catalogue --port 8090 --yes'],
  async run(context, [name = ''], options) {
    return actionOf('catalogue', ACTIONS, name)(context, options);
  },
});

/** Serves a stand-in catalogue on this machine until it is interrupted. */
async function serve(context: Context, options: Options): Promise<ExitStatus> {
  if (options.data === undefined)
    throw new UsageError({ what: 'where does the catalogue keep its data?', hint: 'name a folder with --data DIR' });
  const folder = context.path(options.data);
  if (kindOnDisk(folder) === 'file') throw new UsageError({ what: `${options.data} is a file`, hint: 'name a folder with --data' });
  if (!(await isFolderWanted(context, folder, options))) return ExitStatus.ok;
  await realDiskWriter.makeFolders(folder);
  const tokenFile = join(folder, 'tokens');
  const tokens = await tokensOf(tokenFile);
  const store = await CatalogueStore.open(folder);
  try {
    const app = catalogueApp({
      folder,
      store,
      writer: realDiskWriter,
      platforms: context.platforms(),
      platformFolder: userPlatformFolder(context.io.env),
      tokens,
      maxBytes: options.maxBytes,
      version: context.version,
      now: () => context.io.now(),
      hintOf: ({ hint }) => hint?.text,
    });
    const server = await serveLoopback(app, options.port);
    const { paint } = context;
    await context.io.withInterrupt(
      (signal) =>
        new Promise<void>((resolve) => {
          context.say(`${paint.good('✓')} the catalogue is served at ${paint.name(server.address)}, from ${context.shown(folder)}`);
          context.say(
            `  who may hand in is known by a token in ${context.shown(tokenFile)}; ${server.address}/openapi.json describes the protocol`,
          );
          context.say(paint.faint('  Ctrl-C ends it.'));
          context.result({ address: server.address, tokens: tokenFile });
          signal.addEventListener('abort', () => resolve(), { once: true });
        }),
    );
    await server.close();
  } finally {
    await store.close();
  }
  return ExitStatus.ok;
}

/** The tokens that are known, a line each; a first one is made. */
async function tokensOf(file: string): Promise<string[]> {
  if (readIfThere(file) === undefined) await realDiskWriter.putFile(file, Buffer.from(`${randomBytes(24).toString('base64url')}\n`), true);
  if (!isPrivateOnDisk(file))
    throw new UsageError({ what: `others may read ${file}, which holds tokens`, hint: `chmod 600 ${shellWord(file)}` });
  const lines = (readIfThere(file)?.toString('utf8') ?? '').split('\n').map((line) => line.trim());
  return lines.filter((line) => line !== '' && !line.startsWith('#'));
}
