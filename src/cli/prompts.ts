import { createInterface } from 'node:readline/promises';
import type { Io } from './io.ts';
import { visible } from './output/visible.ts';

/** One of several answers. */
export interface Choice<T extends string> {
  readonly value: T;
  readonly label: string;
  readonly hint?: string | undefined;
}

/** What someone answers who wants the question before again. */
export const BACK = Symbol('back');

/** How that is typed where an answer is typed. */
const BACK_SIGN = '<';

interface TextQuestion {
  readonly message: string;
  readonly initial?: string | undefined;
  /** A sample answer, taken when nothing is typed. */
  readonly fallback?: string | undefined;
  /** Whether “<” goes back to the question before. */
  readonly hasBack?: boolean | undefined;
  /** The problem with an answer; undefined when it is fine. */
  readonly validate?: (answer: string) => string | undefined;
}

/** Asks people. Every method gives undefined when they broke off. */
export interface Prompts {
  confirm(message: string): Promise<boolean | undefined>;
  text(question: TextQuestion): Promise<string | undefined>;
  choose<T extends string>(message: string, choices: readonly Choice<T>[]): Promise<T | undefined>;
  /** Like {@link Prompts.choose}, answered with one key: the value is one letter. */
  chooseKey<T extends string>(message: string, choices: readonly Choice<T>[]): Promise<T | undefined>;
}

/** Asks for a text, or for the way back. */
export async function textOrBack(prompts: Prompts, question: TextQuestion): Promise<string | typeof BACK | undefined> {
  const { validate, hasBack, message } = question;
  const answer = await prompts.text({
    ...question,
    message: hasBack === true ? `${message} (${BACK_SIGN} goes back)` : message,
    validate: (value) => (hasBack === true && value === BACK_SIGN ? undefined : validate?.(value)),
  });
  return hasBack === true && answer === BACK_SIGN ? BACK : answer;
}

/** Asks for one of several, or for the way back. */
export async function chooseOrBack<T extends string>(
  prompts: Prompts,
  message: string,
  choices: readonly Choice<T>[],
  hasBack: boolean,
): Promise<T | typeof BACK | undefined> {
  const back = { value: BACK_SIGN, label: '← Back' };
  const answer = await prompts.choose<string>(message, hasBack ? [...choices, back] : choices);
  return answer === BACK_SIGN ? BACK : (answer as T | undefined);
}

/** Prompts with moving cursors where the terminal takes control sequences, plain lines elsewhere. */
export async function promptsFor(io: Io): Promise<Prompts> {
  return io.hasControls ? movingPrompts() : plainPrompts(io);
}

async function movingPrompts(): Promise<Prompts> {
  const { confirm, isCancel, select, selectKey, text } = await import('@clack/prompts');
  const given = <T>(answer: T): Exclude<T, symbol> | undefined => (isCancel(answer) ? undefined : (answer as Exclude<T, symbol>));
  const shownChoices = <T extends string>(choices: readonly Choice<T>[]) =>
    choices.map(({ value, label, hint }) => ({ value, label: visible(label), ...(hint === undefined ? {} : { hint: visible(hint) }) }));
  return {
    confirm: async (message) => given(await confirm({ message: visible(message) })),
    text: async ({ message, initial, fallback, validate }) =>
      given(
        await text({
          message: visible(message),
          ...(initial === undefined ? {} : { initialValue: initial }),
          ...(fallback === undefined ? {} : { placeholder: fallback, defaultValue: fallback }),
          validate: (answer) => validate?.(answer === undefined || answer === '' ? (fallback ?? '') : answer),
        }),
      ) ?? undefined,
    choose: async <T extends string>(message: string, choices: readonly Choice<T>[]) =>
      given(await select<string>({ message: visible(message), options: shownChoices(choices) })) as T | undefined,
    chooseKey: async <T extends string>(message: string, choices: readonly Choice<T>[]) =>
      given(await selectKey<string>({ message: visible(message), options: shownChoices(choices) })) as T | undefined,
  };
}

function plainPrompts(io: Io): Prompts {
  const readLine = async (question: string): Promise<string | undefined> => {
    const lines = createInterface({ input: process.stdin, terminal: false });
    io.stdout.write(visible(question));
    try {
      for await (const line of lines) return line.trim();
      return undefined;
    } finally {
      lines.close();
    }
  };
  const pick = async <T extends string>(
    message: string,
    choices: readonly Choice<T>[],
    keyOf: (choice: Choice<T>, index: number) => string,
  ): Promise<T | undefined> => {
    const list = choices.map(
      (choice, i) => `  ${keyOf(choice, i)}  ${choice.label}${choice.hint === undefined ? '' : ` (${choice.hint})`}\n`,
    );
    for (;;) {
      const answer = await readLine(`${message}\n${list.join('')}? `);
      if (answer === undefined) return undefined;
      const found = choices.find((choice, i) => answer === keyOf(choice, i) || answer === choice.value);
      if (found !== undefined) return found.value;
      io.stdout.write(visible(`  “${answer}” is not one of them: type ${choices.map(keyOf).join(', ')}\n`));
    }
  };
  return {
    async confirm(message) {
      for (;;) {
        const answer = await readLine(`${message} (y/N) `);
        if (answer === undefined) return undefined;
        if (/^(?:y(?:es)?|no?|)$/i.test(answer)) return /^y/i.test(answer);
        io.stdout.write(visible(`  “${answer}” is neither: type y for yes, or n for no\n`));
      }
    },
    async text({ message, initial, fallback, validate }) {
      for (;;) {
        const taken = initial === undefined || initial === '' ? fallback : initial;
        const answer = await readLine(`${message}${taken === undefined ? '' : ` [${taken}]`}: `);
        if (answer === undefined) return undefined;
        const value = answer === '' ? (taken ?? '') : answer;
        const problem = validate?.(value);
        if (problem === undefined) return value;
        io.stdout.write(visible(`  ${problem}\n`));
      }
    },
    choose: async (message, choices) => pick(message, choices, (_choice, i) => String(i + 1)),
    chooseKey: async (message, choices) => pick(message, choices, ({ value }) => value),
  };
}
