/** Something that a rename would break; line and column count from 1, in the file as it was. */
export interface Breakage {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  /** What would be wrong. */
  readonly text: string;
}
