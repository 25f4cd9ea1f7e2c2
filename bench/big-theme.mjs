// A large made-up theme: stylesheets, scripts, pages and pictures, of which a part holds the name. The same for the same size.
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const WORDS = 'ridge hut door path snow lamp rope stone warden night moon wall map bell stove table bunk key'.split(' ');
const NAMED = {
  css: '.albar-nav { color: var(--albar-ink) }\n',
  js: 'function albarSetup() { return ALBAR_VERSION }\n',
  html: '<p class="albar">Albar, the hut</p>\n',
};

/** A picture begins with what kind it is and how large: PNG's header chunk, JPEG's application and frame segments. */
const HEADS = {
  png: Buffer.from('89504e470d0a1a0a0000000d49484452000001400000014008060000000000000000', 'hex'),
  jpg: Buffer.from('ffd8ffe000104a46494600010100000100010000ffc0001108014001400301220002110103110100', 'hex'),
};

/** And ends with PNG's end chunk, or JPEG's end marker. */
const TAILS = { png: Buffer.from('0000000049454e44ae426082', 'hex'), jpg: Buffer.from('ffd9', 'hex') };

/** How a text refers to a file, where texts of its kind do. */
const REFERENCES = {
  css: { png: (path) => `.a { background: url(${path}) }\n`, jpg: (path) => `.b { background: url("${path}") }\n` },
  html: { css: (path) => `<link rel="stylesheet" href="${path}">\n`, js: (path) => `<script src="${path}"></script>\n` },
};

/**
 * @param bytes of all files together, about
 * @param extensions of the files, in turn: they decide how much of it is text
 */
export function makeBigTheme(root, files, bytes, extensions = ['css', 'js', 'html', 'png', 'jpg']) {
  let seed = 7;
  const random = (below) => (seed = (seed * 1103515245 + 12345) % 2147483648) % below;
  let state = 9;
  /** Bytes that no compression makes smaller, as in a picture (a xorshift generator of 32 bits). */
  const noise = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return state & 0xff;
  };
  const line = {
    css: () => `.${WORDS[random(18)]}-${WORDS[random(18)]} { margin: ${random(90)}px; color: #${100000 + random(899999)} }\n`,
    js: () => `  var ${WORDS[random(18)]}${random(90)} = { ${WORDS[random(18)]}: '#${100000 + random(899999)}' };\n`,
    html: () =>
      `  <p class="${WORDS[random(18)]}-${WORDS[random(18)]}">${WORDS[random(18)]} ${random(90)} ${100000 + random(899999)}</p>\n`,
  };
  const filler = (length, extension) => {
    let text = '';
    while (text.length < length) text += line[extension]();
    return text;
  };
  const extensionOf = (i) => extensions[i % extensions.length];
  const pathOf = (i) => `part-${i % 40}/set-${i % 7}/${i % 10 === 3 ? 'albar-' : ''}file-${i}.${extensionOf(i)}`;
  // Each file is referred to by those of its round.
  const referencesOf = (i) => {
    const first = i - (i % extensions.length);
    return extensions
      .map((_, at) =>
        first + at >= files ? '' : (REFERENCES[extensionOf(i)]?.[extensionOf(first + at)]?.(`../../${pathOf(first + at)}`) ?? ''),
      )
      .join('');
  };
  mkdirSync(root, { recursive: true });
  writeFileSync(join(root, 'sheet.css'), '/*---\ntitle: Albar\nversion: 1.0.0\nhosts: ">=2"\n---*/\n.albar { }\n');
  writeFileSync(join(root, 'main.html'), '<h1>{{page.title}}</h1>\n');
  for (let i = 0; i < files; i++) {
    const extension = extensionOf(i);
    const path = join(root, pathOf(i));
    if (i < 280) mkdirSync(dirname(path), { recursive: true });
    const length = Math.round((bytes / files) * (0.4 + random(120) / 100));
    const own = NAMED[extension];
    if (own === undefined) {
      const picture = Buffer.alloc(length);
      HEADS[extension].copy(picture);
      for (let at = HEADS[extension].length; at < length; at++) picture[at] = noise();
      TAILS[extension].copy(picture, length - TAILS[extension].length);
      writeFileSync(path, picture);
    } else
      writeFileSync(path, `${filler(length / 2, extension)}${i % 3 === 0 ? '' : own}${referencesOf(i)}${filler(length / 2, extension)}`);
  }
}

/** Modules are another kind of script; and what speaks of its author’s machine, or of passwords, would keep the theme from being packed. */
const UNWANTED = /^\s*(?:import|export)\b|localhost|127\.0\.0\.1|file:\/\/|:\/\/[^\s/"'`]*:[^\s/"'`]*@/m;
const isJson = (text) => {
  try {
    return JSON.parse(text) !== null && !UNWANTED.test(text);
  } catch {
    return false;
  }
};

/**
 * Lays scripts and JSON files beside the files of a theme as people write them: those of the packages that are installed here, from the first
 * again when there are too few.
 */
export function addRealScripts(root, scripts, documents) {
  const entries = readdirSync('node_modules', { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
  const paths = entries.map((entry) => join(entry.parentPath, entry.name)).sort();
  const textsOf = (ending, isWanted) =>
    paths.flatMap((path) => {
      const text = path.endsWith(ending) ? readFileSync(path, 'utf8') : '';
      return text !== '' && isWanted(text) ? [text] : [];
    });
  const lay = (texts, count, ending) => {
    for (let i = 0; i < count; i++) {
      const path = join(root, `${ending}-${i % 40}`, `file-${i}.${ending}`);
      if (i < 40) mkdirSync(dirname(path), { recursive: true });
      writeFileSync(path, texts[i % texts.length]);
    }
  };
  lay(
    textsOf('.js', (text) => !UNWANTED.test(text)),
    scripts,
    'js',
  );
  lay(textsOf('.json', isJson), documents, 'json');
}
