import { isUtf8 } from 'node:buffer';
import { applyEdits, type TextEdit } from './edits.ts';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'iso-8859-1';

/** A place for people: both count from 1; columns are counted in UTF-16 code units. */
export interface Position {
  readonly line: number;
  readonly column: number;
}

const UTF8_MARK = [0xef, 0xbb, 0xbf];
const UTF16LE_MARK = [0xff, 0xfe];
const UTF16BE_MARK = [0xfe, 0xff];

/**
 * The text of a file together with all that is needed to write it back byte for byte: encoding, byte-order mark, and
 * line ends as they stand in the text.
 */
export class SourceDocument {
  readonly file: string;
  readonly text: string;
  readonly encoding: Encoding;
  readonly hasMark: boolean;
  #lineStarts: number[] | undefined;

  private constructor(file: string, text: string, encoding: Encoding, hasMark: boolean) {
    this.file = file;
    this.text = text;
    this.encoding = encoding;
    this.hasMark = hasMark;
  }

  /** Returns the document, or undefined when the bytes are not text (see {@link isBinary}). */
  static decode(file: string, bytes: Buffer): SourceDocument | undefined {
    if (startsWith(bytes, UTF8_MARK) && isUtf8(bytes.subarray(3))) {
      return new SourceDocument(file, bytes.toString('utf8', 3), 'utf-8', true);
    }
    if (startsWith(bytes, UTF16LE_MARK) && bytes.length % 2 === 0) {
      return new SourceDocument(file, bytes.toString('utf16le', 2), 'utf-16le', true);
    }
    if (startsWith(bytes, UTF16BE_MARK) && bytes.length % 2 === 0) {
      return new SourceDocument(file, Buffer.from(bytes.subarray(2)).swap16().toString('utf16le'), 'utf-16be', true);
    }
    if (isBinary(bytes)) return undefined;
    // Every byte is a character of ISO 8859-1, so any 8-bit encoding survives a round trip through it unchanged.
    return isUtf8(bytes)
      ? new SourceDocument(file, bytes.toString('utf8'), 'utf-8', false)
      : new SourceDocument(file, bytes.toString('latin1'), 'iso-8859-1', false);
  }

  /** A document for text that has no file yet: UTF-8 without a mark. */
  static fromText(file: string, text: string): SourceDocument {
    return new SourceDocument(file, text, 'utf-8', false);
  }

  /** Returns the bytes of `text` in this document's encoding, with its mark; undefined when a character does not fit. */
  encode(text: string): Buffer | undefined {
    switch (this.encoding) {
      case 'utf-8':
        return Buffer.concat([Buffer.from(this.hasMark ? UTF8_MARK : []), Buffer.from(text, 'utf8')]);
      case 'utf-16le':
        return Buffer.concat([Buffer.from(UTF16LE_MARK), Buffer.from(text, 'utf16le')]);
      case 'utf-16be':
        return Buffer.concat([Buffer.from(UTF16BE_MARK), Buffer.from(text, 'utf16le').swap16()]);
      case 'iso-8859-1':
        // eslint-disable-next-line no-control-regex
        return /^[\u0000-\u00ff]*$/.test(text) ? Buffer.from(text, 'latin1') : undefined;
    }
  }

  /** The bytes of the file that it was read from. */
  get original(): Buffer {
    return this.encode(this.text) ?? Buffer.alloc(0);
  }

  /** Bytes that a text takes in this document's encoding. */
  byteLength(text: string): number {
    return this.encoding === 'utf-8' ? Buffer.byteLength(text) : this.encoding === 'iso-8859-1' ? text.length : text.length * 2;
  }

  /** Bytes of the byte-order mark; 0 without one. */
  get markLength(): number {
    return !this.hasMark ? 0 : this.encoding === 'utf-8' ? UTF8_MARK.length : UTF16LE_MARK.length;
  }

  /** Returns this document after the edits. */
  withEdits(edits: readonly TextEdit[]): SourceDocument {
    return new SourceDocument(this.file, applyEdits(this.text, edits), this.encoding, this.hasMark);
  }

  /** Returns line and column (from 1) of a 0-based offset; an offset past the end counts as the end. */
  positionAt(offset: number): Position {
    const starts = this.#starts();
    const clamped = Math.max(0, Math.min(offset, this.text.length));
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((starts[middle] ?? 0) <= clamped) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: clamped - (starts[low] ?? 0) + 1 };
  }

  /** Returns the text of a line (from 1) without its line end. */
  lineAt(line: number): string {
    const starts = this.#starts();
    const start = starts[line - 1];
    if (start === undefined) return '';
    return this.text.slice(start, starts[line] ?? this.text.length).replace(/\r?\n$|\r$/, '');
  }

  /** The line end that the text uses first; a line feed when it has none. */
  get lineEnd(): '\n' | '\r\n' | '\r' {
    const found = /\r\n|\n|\r/.exec(this.text)?.[0];
    return found === '\r\n' || found === '\r' ? found : '\n';
  }

  #starts(): number[] {
    if (this.#lineStarts !== undefined) return this.#lineStarts;
    const starts = [0];
    const text = this.text;
    if (!text.includes('\r')) {
      for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
      return (this.#lineStarts = starts);
    }
    // A lone carriage return ends a line too (old files), a CRLF pair ends one line.
    for (let i = 0; i < text.length; i++) {
      const unit = text.charCodeAt(i);
      if (unit === 10 || (unit === 13 && text.charCodeAt(i + 1) !== 10)) starts.push(i + 1);
    }
    return (this.#lineStarts = starts);
  }
}

/** Whether bytes are not text: they hold a NUL, or control characters that no text file uses. */
export function isBinary(bytes: Buffer): boolean {
  if (bytes.includes(0)) return true;
  if (isUtf8(bytes)) return false;
  const head = bytes.subarray(0, 65_536);
  for (const byte of head) {
    // Tab, line feed, form feed, carriage return and escape occur in text; the other controls do not.
    if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 12 && byte !== 13 && byte !== 27) return true;
  }
  return false;
}

/** Whether the head of a file is enough to know that {@link SourceDocument.decode} finds no text in it. */
export function isBinaryHead(head: Buffer): boolean {
  return head.includes(0) && ![UTF8_MARK, UTF16LE_MARK, UTF16BE_MARK].some((mark) => startsWith(head, mark));
}

function startsWith(bytes: Buffer, head: readonly number[]): boolean {
  return head.every((byte, i) => bytes[i] === byte);
}
