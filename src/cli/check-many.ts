import { Helper } from '../core/parallel/helper.ts';
import { checkFolders, checkOpened, type CheckedFolder, type FoldersToCheck } from '../core/rules/check-folders.ts';
import type { Context } from './command.ts';
import { userPlatformFolder } from './io.ts';
import { openArgument } from './theme-argument.ts';
import { CHECK_TASKS } from '../core/rules/check-in-thread.ts';

/** With fewer themes a second thread takes longer to start than it saves. */
const WORTH_A_THREAD = 12;

/** Checks themes, on two threads when there are many, with a line of progress on a terminal. */
export async function checkMany(context: Context, themes: readonly string[], purpose: FoldersToCheck['purpose']): Promise<CheckedFolder[]> {
  const helper = themes.length >= WORTH_A_THREAD ? Helper.start() : undefined;
  const { platform, shelf } = context.options;
  const common = {
    currentFolder: context.io.folder,
    platform,
    shelves: shelf,
    platformFolder: userPlatformFolder(context.io.env),
    purpose,
  };
  const half = helper === undefined ? 0 : Math.ceil(themes.length / 2);
  try {
    const theirs = helper?.run(CHECK_TASKS, 'check', { ...common, folders: themes.slice(0, half) });
    const ours = checkFolders({ ...common, folders: themes.slice(half) }, (done) => progress(context, done, themes.length - half));
    const first = (await theirs) ?? [];
    // What was stopped at may be an id on a shelf, or a mistake that is told here: it is looked up as always.
    const rest = (asked: readonly string[], done: readonly CheckedFolder[]): CheckedFolder[] =>
      asked.slice(done.length).map((theme) => checkOpened(openArgument(theme, context), purpose));
    return [...first, ...rest(themes.slice(0, half), first), ...ours, ...rest(themes.slice(half), ours)];
  } finally {
    await helper?.stop();
    clear(context);
  }
}

function progress({ io, isMachine }: Context, done: number, of: number): void {
  if (io.isInteractive && io.hasControls && !isMachine) io.stderr.write(`\rchecking … ${Math.floor((100 * done) / of)} %`);
}

function clear({ io, isMachine }: Context): void {
  if (io.isInteractive && io.hasControls && !isMachine) io.stderr.write('\r\u001b[K');
}
