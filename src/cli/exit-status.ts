/** Exit statuses of the program; documented in the README. */
export const ExitStatus = {
  ok: 0,
  /** Findings of severity error, or a refused operation. */
  findings: 1,
  /** The command line or a configuration file is wrong. */
  usage: 2,
  /** An operation failed halfway and was taken back. */
  failed: 3,
  /** A defect in Pionero itself. */
  defect: 70,
} as const;

export type ExitStatus = (typeof ExitStatus)[keyof typeof ExitStatus];
