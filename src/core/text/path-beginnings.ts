/** The end of a path that code adds the rest of: `"icons/" ~ name`, `'lang/' + it`, `icons/${name}`, `icons/{{ name }}`. */
const JOINT = /[/.](?=["'`] {0,2}(?:[~+,]|\. ?[$\w])|\$\{|\{\{|#\{|<%|%s)/g;
const LONGEST = 200;

/** The paths that code puts together in a text, each up to where something is added: `icons/`, `/min/hut.`. */
export function* pathBeginnings(text: string): Generator<string> {
  for (const { index } of text.matchAll(JOINT)) {
    let start = index;
    while (start > 0 && index - start < LONGEST && /[\w@./-]/.test(text.charAt(start - 1))) start--;
    const beginning = text.slice(start, index + 1).replace(/^(?:\.{1,2}\/)+/, '');
    // Only one with a folder and a word in it says where the rest lies.
    if (/\/.*\w|\w.*\//.test(beginning)) yield beginning;
  }
}

/** Whether a path has such a beginning, in whole folders: `assets/icons/hut.svg` has `icons/`. */
export function hasBeginning(path: string, beginning: string): boolean {
  return `/${path}`.includes(beginning.startsWith('/') ? beginning : `/${beginning}`);
}
