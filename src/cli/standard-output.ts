import { fstatSync, statSync, writeSync } from 'node:fs';
import { devNull } from 'node:os';

/** Standard output or error. */
export interface StandardOutput {
  readonly isTTY: boolean;
  /** Whether another program reads it, and prints what it likes when it likes. */
  readonly isPipe: boolean;
  /** Characters a line of a terminal. */
  readonly columns: number;
  write(text: string): void;
  /** Waits until all is written, and says why it could not be. A reader that went away does not count. */
  failure(): Promise<NodeJS.ErrnoException | undefined>;
}

/**
 * The process's output. The engine’s streams are made only for a terminal, or where the output cannot be written at once: they take
 * longer to make than most answers to print.
 * @param descriptor 1 for standard output, 2 for standard error
 */
export function standardOutput(descriptor: 1 | 2): StandardOutput {
  const isPlain = isPlainFile(descriptor);
  let failed: NodeJS.ErrnoException | undefined;
  let stream: NodeJS.WriteStream | undefined;
  const note = (error: NodeJS.ErrnoException): void => void (failed ??= error);
  const streamed = (): NodeJS.WriteStream => {
    if (stream === undefined) {
      stream = descriptor === 1 ? process.stdout : process.stderr;
      stream.on('error', note);
    }
    return stream;
  };
  return {
    isTTY: !isPlain && streamed().isTTY,
    get isPipe() {
      return isPipe(descriptor);
    },
    columns: isPlain ? 0 : streamed().columns,
    write(text) {
      if (!isPlain || stream !== undefined) streamed().write(text);
      else if (failed === undefined) {
        const { rest, error } = writtenAtOnce(descriptor, Buffer.from(text));
        if (error === undefined) return;
        // What takes no more at the moment is left to the engine.
        if (error.code === 'EAGAIN') streamed().write(rest);
        else note(error);
      }
    },
    async failure() {
      if (stream !== undefined) await new Promise<void>((resolve) => stream?.write('', () => resolve()));
      return failed?.code === 'EPIPE' ? undefined : failed;
    },
  };
}

/** Whether an output is a file, a pipe or nothing: a terminal is a device, and only the engine knows what it can do. */
function isPlainFile(descriptor: number): boolean {
  try {
    const output = fstatSync(descriptor);
    if (output.isFile() || output.isFIFO()) return true;
    return output.isCharacterDevice() && output.rdev === statSync(devNull).rdev;
  } catch {
    return false;
  }
}

function isPipe(descriptor: number): boolean {
  try {
    return fstatSync(descriptor).isFIFO() || fstatSync(descriptor).isSocket();
  } catch {
    return false;
  }
}

function writtenAtOnce(descriptor: number, bytes: Buffer): { rest: Buffer; error?: NodeJS.ErrnoException } {
  let at = 0;
  try {
    while (at < bytes.length) at += writeSync(descriptor, bytes, at);
    return { rest: Buffer.alloc(0) };
  } catch (error) {
    return { rest: bytes.subarray(at), error: error as NodeJS.ErrnoException };
  }
}
