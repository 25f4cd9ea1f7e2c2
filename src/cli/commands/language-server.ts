import { UsageError } from '../../core/errors.ts';
import { defineCommand } from '../command.ts';
import { ExitStatus } from '../exit-status.ts';
import { flag } from '../option.ts';

export default defineCommand({
  arguments: [],
  options: {
    stdio: flag('speak over standard input and output: the only way, which editors name'),
  },
  examples: ['pionero language-server --stdio'],
  async run(context, _args, { stdio }) {
    if (!stdio)
      throw new UsageError({
        what: 'an editor starts this, and says how it speaks',
        hint: 'tell yours to run “pionero language-server --stdio”: docs/editors.md has the lines',
      });
    const { serveEditor } = await import('../language-server/server.ts');
    await serveEditor(context, process.stdin, process.stdout);
    return ExitStatus.ok;
  },
});
