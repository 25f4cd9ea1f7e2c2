import { shellWord } from '../text/shell-word.ts';
import * as z from 'zod';
import { ConfigurationError } from '../errors.ts';
import { isPrivateOnDisk, readIfThere } from '../files/disk.ts';
import { SourceDocument } from '../text/source-document.ts';
import { readConfiguration } from './read-configuration.ts';

const Tokens = z.record(z.string(), z.string().min(1));

/**
 * The token for a catalogue in a file of tokens by address; undefined when there is none.
 * @param file absolute
 * @throws ConfigurationError when others may read the file, or it is wrong; the message holds nothing of it
 */
export function tokenFor(file: string, address: string): string | undefined {
  const bytes = readIfThere(file);
  if (bytes === undefined) return undefined;
  if (!isPrivateOnDisk(file))
    throw new ConfigurationError({ what: `others may read ${file}, which holds tokens`, hint: `chmod 600 ${shellWord(file)}` });
  const source = SourceDocument.decode(file, bytes);
  if (source === undefined) throw new ConfigurationError({ what: `${file} is not a text file` });
  let tokens: z.infer<typeof Tokens>;
  try {
    tokens = readConfiguration(source, Tokens, 'file of tokens');
  } catch {
    throw new ConfigurationError({
      what: `${file} is not a file of tokens`,
      hint: 'a line for each catalogue: “https://catalogue.example: TOKEN”',
    });
  }
  const plain = (text: string): string => text.replace(/\/+$/, '');
  return Object.entries(tokens).find(([each]) => plain(each) === plain(address))?.[1];
}
