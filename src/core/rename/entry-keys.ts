/** The keys that lead to a place: by brackets where there are some, by indentation where not. */
export function entryKeys(text: string, offset: number): string[] {
  const keys: string[] = [];
  const head = text.slice(Math.max(0, offset - 4000), offset);
  // A section of INI or TOML begins with a bracket, too.
  const isBracketed = /^\s*[{[]/.test(text) && !/^\s*\[\[?[\w."' -]+\]\]?[ \t]*(?:[#;\r\n]|$)/.test(text);
  if (isBracketed) {
    const own = /"([^"\\]*)"\s*:\s*"?[^"{}[\]]*$/.exec(head)?.[1];
    if (own !== undefined) keys.push(own);
    let depth = 0;
    for (let at = head.length - 1; at >= 0; at--) {
      const sign = head.charAt(at);
      if (sign === '}' || sign === ']') depth++;
      else if (sign === '{' || sign === '[') {
        if (depth > 0) depth--;
        else keys.push(/"([^"\\]*)"\s*:\s*$/.exec(head.slice(Math.max(0, at - 200), at))?.[1] ?? '');
      }
    }
    return keys;
  }
  const lines = head.split('\n');
  let indent = Infinity;
  for (const line of lines.toReversed()) {
    const space = /^\s*/.exec(line)?.[0] ?? '';
    const key = /^\s*(?:- )?["']?([\w .-]*?)["']?\s*(?:[:=]|$)/.exec(line)?.[1];
    const isItem = /^\s*- /.test(line);
    if (line.trim() === '' || space.length >= indent + (isItem ? 1 : 0)) continue;
    if (key !== undefined) keys.push(key);
    indent = isItem ? space.length + 1 : space.length;
    if (indent === 0) break;
  }
  return keys;
}
