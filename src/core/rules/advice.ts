/** The codes that need nothing said in their sentence. */
type Bare =
  | 'add-it'
  | 'add-or-drop-import'
  | 'add-or-readdress'
  | 'add-to-catalogues'
  | 'allow-entering'
  | 'allow-reading'
  | 'close-sections'
  | 'compress'
  | 'copy-again'
  | 'copy-again-or-close'
  | 'copy-in-place'
  | 'copy-into-theme'
  | 'correct-there'
  | 'decide-conflict'
  | 'include-or-remove'
  | 'install-or-drop'
  | 'larger-picture'
  | 'load-or-remove'
  | 'mend-record'
  | 'other-file'
  | 'other-name'
  | 'other-name-unless-meant'
  | 'other-title'
  | 'owner-enters'
  | 'point-or-remove'
  | 'put-on-shelf'
  | 'remove-or-exclude'
  | 'remove-secret'
  | 'rename-folder'
  | 'rename-here'
  | 'rename-with-references'
  | 'replace-or-take-out'
  | 'save-utf8'
  | 'save-without-mark'
  | 'see-exclude'
  | 'see-rules'
  | 'sync'
  | 'take-closing-out'
  | 'tell-license'
  | 'take-include-out'
  | 'take-one-out'
  | 'take-out'
  | 'translate-or-drop'
  | 'translate-there'
  | 'translate-too'
  | 'write-from-theme'
  | 'write-like-range'
  | 'write-markup'
  | 'write-own'
  | 'write-theme-path';

/** The other codes, and what stands in the sentence of each. */
interface Named {
  add: 'what';
  'add-field': 'key' | 'value';
  'add-field-about': 'key' | 'about';
  'add-field-or': 'key' | 'value' | 'values';
  'add-or-drop-line': 'what';
  'add-or-drop-name': 'what';
  'add-or-take-out': 'what';
  'agree-license': 'license';
  'put-license-text': 'license';
  'add-path-or-readdress': 'path';
  'add-picture': 'what';
  'add-section': 'section';
  /** A sentence of the platform file, or of the library that read the file. */
  'as-read': 'text';
  'ask-for': 'key';
  crop: 'ratio';
  declare: 'known';
  'add-source': 'path' | 'from';
  'compose-name': 'near';
  'did-you-mean': 'near';
  'drop-record': 'file';
  'did-you-mean-or-shelf': 'near';
  'drop-executable': 'path';
  'end-lines': 'with';
  'finish-rename': 'own' | 'other';
  'rename-as-called': 'folder' | 'own';
  include: 'name';
  'known-fields': 'known';
  'known-in': 'section' | 'known';
  move: 'to';
  copy: 'from' | 'to';
  'begin-document': 'title' | 'fields';
  'begin-lacking': 'title' | 'fields';
  'print-in': 'shape';
  'print-or-take-out': 'shape';
  'put-before': 'text';
  'put-before-text': 'text' | 'before';
  'put-in': 'text';
  quote: 'value';
  'raise-version': 'head' | 'version' | 'file';
  rename: 'from' | 'to';
  'rename-key': 'from' | 'to';
  'rename-folder-to': 'to';
  'rename-it': 'to';
  'rename-or-save': 'ending' | 'format';
  'rename-with-calls': 'to';
  'save-again': 'format';
  'save-as': 'format';
  'save-with-pixels': 'width' | 'height';
  'say-why': 'rule';
  'state-range': 'range';
  'take-out-key': 'key';
  'there-already': 'name';
  'widen-range': 'version';
  write: 'value';
  'write-or-move-tag': 'value';
  'write-or-rename-folder': 'value';
  'write-range': 'release';
}

/** What a person, or a fix, can do about a finding. Codes stay from one release to the next. */
export type AdviceCode = Bare | keyof Named;

/** A code, and what stands in its sentence; the sentence is made where it is shown. */
export interface Advice {
  readonly code: AdviceCode;
  readonly args: Readonly<Record<string, string | number>>;
}

export function advise(code: Bare): Advice;
export function advise<C extends keyof Named>(code: C, args: Readonly<Record<Named[C], string | number>>): Advice;
export function advise(code: AdviceCode, args: Readonly<Record<string, string | number>> = {}): Advice {
  return { code, args };
}

/** What to do where a name is meant that is nearly right: one whose letters have their marks apart looks the same, and is another. */
export function adviseMeant(written: string, near: string): Advice {
  const isSameWord = written !== near && near.normalize('NFC').endsWith(written.normalize('NFC'));
  return isSameWord ? advise('compose-name', { near }) : advise('did-you-mean', { near });
}
