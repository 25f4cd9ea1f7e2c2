import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort } from '../../src/core/sites/disk-run.ts';
import { writeFiles } from './trees.ts';

/** A mail server on this machine, with one letter in the box of `cierzo`. */
export interface MailServer {
  readonly port: number;
  /** Ends it, and removes its letters. */
  readonly end: () => Promise<void>;
}

const LETTER = [
  'From: Lumbre <lumbre@albar.example>',
  'To: Cierzo <cierzo@albar.example>',
  'Subject: Forty beds',
  'Date: Mon, 02 Nov 2026 10:00:00 +0000',
  'Message-ID: <1@albar.example>',
  '',
  'The hut of Lumbre has forty beds. Bring a lamp.',
  '',
].join('\r\n');

const settings = (folder: string, port: number, user: string, group: string): string => `protocols = imap
listen = 127.0.0.1
base_dir = ${folder}/run
state_dir = ${folder}/run
log_path = ${folder}/log
default_internal_user = ${user}
default_internal_group = ${group}
default_login_user = ${user}
ssl = no
disable_plaintext_auth = no
mail_location = maildir:${folder}/mail
passdb {
  driver = static
  args = password=lumbre
}
userdb {
  driver = static
  args = home=${folder} uid=${user} gid=${group}
}
service imap-login {
  chroot =
  inet_listener imap {
    port = ${port}
  }
  inet_listener imaps {
    port = 0
  }
}
service anvil {
  chroot =
}
service stats {
  chroot =
}
`;

/** Starts a mail server. Nobody reads mail as the administrator: then it runs as somebody else. */
export async function startMailServer(): Promise<MailServer> {
  const folder = mkdtempSync(join(tmpdir(), 'pionero-mail-'));
  const isAdministrator = process.getuid?.() === 0;
  const own = (option: string): string => spawnSync('id', [option], { encoding: 'utf8' }).stdout.trim();
  const [user, group] = isAdministrator ? ['nobody', 'nogroup'] : [own('-un'), own('-gn')];
  const port = await freePort();
  chmodSync(folder, 0o755);
  writeFiles(folder, { 'mail/cur/1:2,S': LETTER, 'mail/new/.keep': '', 'mail/tmp/.keep': '', 'run/.keep': '' });
  writeFileSync(join(folder, 'dovecot.conf'), settings(folder, port, user, group));
  if (isAdministrator) spawnSync('chown', ['-R', `${user}:${group}`, folder]);
  const command = ['dovecot', '-F', '-c', join(folder, 'dovecot.conf')];
  const as = isAdministrator ? ['setpriv', `--reuid=${user}`, `--regid=${group}`, '--clear-groups'] : [];
  const [program = '', ...args] = [...as, ...command];
  const server = spawn(program, args, { stdio: 'ignore' });
  const end = async (): Promise<void> => {
    const isEnded = new Promise((resolve) => server.once('exit', resolve));
    server.kill();
    await isEnded;
    rmSync(folder, { recursive: true, force: true });
  };
  for (let tries = 0; tries < 100 && !(await isListening(port)); tries += 1) await sleep(50);
  return { port, end };
}

async function isListening(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => (socket.destroy(), resolve(true))).once('error', () => resolve(false));
  });
}
