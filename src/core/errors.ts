import { platform } from 'node:os';

/** Facts about an expected error: what happened, why it matters, what to do. */
export interface ErrorFacts {
  /** The problem, one sentence without the final full stop. */
  readonly what: string;
  /** Why it is wrong or why it matters. */
  readonly why?: string | undefined;
  /** More to read, a line each. */
  readonly details?: readonly string[] | undefined;
  /** What to do about it. */
  readonly hint?: string | undefined;
  readonly cause?: unknown;
}

/**
 * An error that a user can cause and fix. The subclasses are a closed set: an interface decides by class
 * (and so by exit status), never by the text. Anything else that is thrown is a defect in Pionero.
 */
export abstract class PioneroError extends Error {
  abstract readonly code: 'usage' | 'configuration' | 'refused' | 'failed';
  readonly what: string;
  readonly why: string | undefined;
  readonly details: readonly string[];
  readonly hint: string | undefined;

  constructor(facts: ErrorFacts) {
    super(facts.what, facts.cause === undefined ? undefined : { cause: facts.cause });
    this.name = new.target.name;
    this.what = facts.what;
    this.why = facts.why;
    this.details = facts.details ?? [];
    this.hint = facts.hint;
  }
}

/** The command line, or a call of the library, names something that cannot be used. */
export class UsageError extends PioneroError {
  readonly code = 'usage';
}

/** One mistake in a configuration, platform or kit file. Line and column count from 1. */
export interface ConfigurationProblem {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly message: string;
  /** The line of the file that the problem stands in. */
  readonly sourceLine: string;
}

/** A configuration file, platform file or kit file is wrong. */
export class ConfigurationError extends PioneroError {
  readonly code = 'configuration';
  readonly problems: readonly ConfigurationProblem[];

  constructor(facts: ErrorFacts & { readonly problems?: readonly ConfigurationProblem[] }) {
    super(facts);
    this.problems = facts.problems ?? [];
  }
}

/** The request is clear, but would do harm or cannot be done with these files. Nothing was changed. */
export class RefusedError extends PioneroError {
  readonly code = 'refused';
}

/** An operation failed or was interrupted halfway, and what it had done was taken back. */
export class FailedOperationError extends PioneroError {
  readonly code = 'failed';
}

const SYSTEM_REASONS: Readonly<Record<string, string>> = {
  EACCES: 'permission denied',
  EPERM: 'the operation is not permitted',
  ENOENT: 'no such file or folder',
  ENOSPC: 'the disk is full',
  EROFS: 'the file system is read-only',
  EDQUOT: 'the disk quota is used up',
  EFBIG: 'the file would be larger than the system allows',
  EMFILE: 'too many files are open',
  ENAMETOOLONG: 'the name is too long for the file system',
  ELOOP: 'symbolic links form a circle',
  ENOTDIR: 'a part of the path is not a folder',
  EISDIR: 'it is a folder',
  EXDEV: 'source and target are on different file systems',
  EIO: 'the device reported an error',
  EBUSY: 'another program has it open',
  EEXIST: 'something of that name is there already',
  ENOTEMPTY: 'the folder is not empty',
  EMLINK: 'the file has too many names',
  ENOTSUP: 'the file system cannot do that',
  UNKNOWN: 'the system gives no reason',
};

/** The system's error code (`ENOSPC`), when `error` is one of the operating system's. */
export function systemCode(error: unknown): string | undefined {
  return error instanceof Error && 'code' in error && typeof error.code === 'string' && /^(?:E[A-Z0-9]+|UNKNOWN)$/.test(error.code)
    ? error.code
    : undefined;
}

/** Says in plain words why the operating system refused; falls back to the error's own message. */
export function systemReason(error: unknown, system: NodeJS.Platform = platform()): string {
  const code = systemCode(error);
  // Where an open file can be neither moved nor removed, that is the usual reason.
  if (system === 'win32' && (code === 'EPERM' || code === 'EACCES')) return 'another program has it open, or it may not be changed';
  if (code !== undefined) return SYSTEM_REASONS[code] ?? code;
  return error instanceof Error ? error.message : String(error);
}
