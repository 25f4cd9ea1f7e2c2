import { kindOfPath } from '../../text/file-kinds.ts';
import type { Mention } from '../mention.ts';
import { keeps, type Judge } from './judge.ts';

/** `owner/name` of a repository, `host.example/owner/name`, and `@handle`. */
export const account: Judge = keeps(
  {
    code: 'account',
    group: 'theirs',
    sentence: 'an account or a repository',
    examples: [
      { file: 'a.md', text: 'See hutfriend/«albar».' },
      { file: 'a.md', text: 'See hutfriend.example/huts/«albar»/issues.' },
      { file: 'a.yaml', text: 'repository: hutfriend/«albar»\n' },
    ],
  },
  isAccount,
);

const REPOSITORY_KEY =
  /^(?:repo(?:sitory)?(?:[_-]?(?:url|name))?|(?:github|gitlab|codeberg|bitbucket|twitter|mastodon|instagram|bluesky|facebook)(?:[_-](?:repo(?:sitory)?|user(?:name)?|handle|account|id))?|handle|username)$/i;
/** First parts of paths that are folders, and no owner of a repository. */
const FOLDER =
  /^(?:\.{1,2}|themes?|skins?|templates?|layouts?|styles?|css|s[ac]ss|less|js|scripts?|src|lib|dist|public|assets?|static|media|vendors?|plugins?|modules?|packages?|partials?|pages?|images?|img|pictures?|icons?|fonts?|docs?|tests?|build|apps?|sites?|www|htdocs|web|usr|etc|opt|var|home|share|locales?|languages?|strings|kits?|node_modules|and|or|by|an?|the)$/i;
const DOMAIN = /^(?:[\w-]+\.)+[a-z]{2,}$/i;

function isAccount(mention: Mention): boolean {
  const { file, matching } = mention;
  if (mention.pair.sort === 'title' || mention.zone?.kind === 'code') return false;
  if (file.kind === 'data' && isInRepositoryField(mention.before(200))) return true;
  if (isWord(mention)) return false;
  const { text: token, start } = mention.stretch(/[\w.@/~+-]/);
  if (matching.home !== undefined && token.includes(matching.home)) return false;
  const [owner = '', name = '', ...more] = token.replace(/[.,]+$/, '').split('/');
  if (more.length > 0) return DOMAIN.test(owner) && kindOfPath(owner) === 'other';
  // Accounts are written in small letters, and “Cierzo/Albar” are two names in a sentence.
  const isComment = mention.zone?.kind === 'comment';
  if ((file.kind !== 'prose' && !isComment) || /\p{Lu}/u.test(mention.found)) return false;
  if (name === '') return isSite(owner) || (token.startsWith('@') && !isComment);
  if (isComment) return token.startsWith('@');
  return isOwner(owner) && /^[\w.-]+$/.test(name) && mention.start > start + owner.length;
}

/** Most places: a word of a sentence, or of code. */
function isWord(mention: Mention): boolean {
  return /^\s?$/.test(mention.before(1)) && /^[\s,;:!?)(]?$/.test(mention.after(1));
}

/** `repository: owner/name`, as the value of a key on its line. */
function isInRepositoryField(head: string): boolean {
  const key = /(?:^|[\n{,])\s*(?:-\s*)?["']?([\w-]+)["']?\s*[:=]\s*["']?[^"'\n{}[\],]*$/.exec(head)?.[1];
  return key !== undefined && REPOSITORY_KEY.test(key);
}

/** A host by its name alone: the last part is one that many have. */
function isSite(name: string): boolean {
  return /^(?:[\w-]+\.)+(?:com|org|net|io|dev|app|eu|info|example)$/i.test(name);
}

function isOwner(word: string): boolean {
  return /^[A-Za-z\d][\w-]*$/.test(word) && !FOLDER.test(word);
}
