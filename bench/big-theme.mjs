// A large made-up theme: stylesheets, scripts, pages and pictures, of which a part holds the name. The same for the same size.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const WORDS = 'ridge hut door path snow lamp rope stone warden night moon wall map bell stove table bunk key'.split(' ');
const NAMED = {
  css: '.albar-nav { color: var(--albar-ink) }\n',
  js: 'function albarSetup() { return ALBAR_VERSION }\n',
  html: '<p class="albar">Albar, the hut</p>\n',
};

/**
 * @param bytes of all files together, about
 * @param extensions of the files, in turn: they decide how much of it is text
 */
export function makeBigTheme(root, files, bytes, extensions = ['css', 'js', 'html', 'png', 'jpg']) {
  let seed = 7;
  const random = (below) => (seed = (seed * 1103515245 + 12345) % 2147483648) % below;
  const filler = (length) => {
    let text = '';
    while (text.length < length)
      text += `  .${WORDS[random(18)]}-${WORDS[random(18)]} { margin: ${random(90)}px; color: #${100000 + random(899999)} }\n`;
    return text;
  };
  mkdirSync(root, { recursive: true });
  writeFileSync(join(root, 'sheet.css'), '/*---\ntitle: Albar\nversion: 1.0.0\nhosts: ">=2"\n---*/\n.albar { }\n');
  writeFileSync(join(root, 'main.html'), '<h1>{{page.title}}</h1>\n');
  for (let i = 0; i < files; i++) {
    const folder = join(root, `part-${i % 40}`, `set-${i % 7}`);
    if (i < 280) mkdirSync(folder, { recursive: true });
    const name = `${i % 10 === 3 ? 'albar-' : ''}file-${i}`;
    const length = Math.round((bytes / files) * (0.4 + random(120) / 100));
    const extension = extensions[i % extensions.length];
    const own = NAMED[extension];
    if (own === undefined) {
      const picture = Buffer.alloc(length);
      for (let at = 0; at < length; at++) picture[at] = random(256);
      writeFileSync(join(folder, `${name}.${extension}`), picture);
    } else writeFileSync(join(folder, `${name}.${extension}`), `${filler(length / 2)}${i % 3 === 0 ? '' : own}${filler(length / 2)}`);
  }
}
