import type { Reason, ReasonCode } from '../../core/rename/reason.ts';

/** Why a place stays, for people; {about} is the name, word or wish that it is about. */
const SENTENCES: Readonly<Record<ReasonCode, string>> = {
  credit: 'in a credit or copyright line',
  licence: 'in a license or credits file',
  history: 'changelog: the name at that time',
  link: 'part of a link or an e-mail address',
  lock: 'in a lock file, which a tool writes',
  generated: 'in a generated file: generate it again',
  'third-party': 'third-party code',
  host: 'a name that the host owns',
  theirs: 'a package, an account or a path of others',
  'other-theme': 'another theme’s name, “{about}”',
  person: 'the name of a person or an organisation, “{about}”',
  'longer-word': 'part of the longer word “{about}”',
  language: 'a word of the file’s own language',
  ending: 'the ending of a file’s name',
  wish: 'kept as wished: “{about}”',
  decided: 'kept as decided',
  binary: 'inside a binary file, which is never edited',
  'too-large': 'the file is too large to be edited',
  'fixed-link': 'a link to a place that does not move',
  'common-name': 'the name is a common word, and the place does not prove that it means the theme',
  'short-name': 'the name is short, and the place does not prove that it means the theme',
  'part-of-name': 'another theme’s name holds this one, and the place does not prove which is meant',
  'common-file': 'the name is a common word, and the platform does not say that this file carries it',
  'short-file': 'the name is short, and the file’s name does not begin with it',
  author: 'it is also the name of the author, and the place does not tell which is meant',
  'title-syntax': 'the new title holds signs that could break the file’s syntax here',
  'binary-path': 'refers to a path that exists only inside a binary file',
  'no-spelling': 'written in no spelling that can be told',
  encoding: 'the new name does not fit the file’s encoding',
  'case-twin': 'differs only by case from {about}: some systems cannot hold both',
  'not-told': 'cannot be told',
  'stale-copy': 'a compressed copy of a file that changes: compress it again',
  'stale-catalogue': 'a compiled catalogue that was not made from the one beside it: compile it again',
  'stale-map': 'the source map of a file that changes: build it again',
};

export function reasonText({ code, about = '' }: Reason): string {
  return SENTENCES[code].replace('{about}', () => about);
}

/** The same for several places that are about different names. */
const TOGETHER: Partial<Readonly<Record<ReasonCode, string>>> = {
  'other-theme': 'names of other themes',
  person: 'names of persons and organisations',
  'longer-word': 'parts of longer words',
  wish: 'kept as wished',
  'case-twin': 'differ only by case from others: some systems cannot hold both',
};

export function reasonsTogether(code: ReasonCode): string {
  return TOGETHER[code] ?? SENTENCES[code];
}
