import { headOfChangelog } from '../contents/changelog.ts';
import type { ThirdParty } from '../contents/third-party.ts';
import type { Chain } from '../theme/chain.ts';
import type { PackagePlan } from './pack-theme.ts';

/** The page of a theme in a public directory, in Markdown: what it is, what it needs, what is new, and its third-party files. */
export function listingOf(plan: PackagePlan, chain: Chain, parts: readonly ThirdParty[]): string {
  const { theme } = plan;
  const { platform } = theme;
  const title = theme.names.title ?? theme.names.id;
  const tags = theme.fact('tags')?.value;
  const row = (name: string, value: string | undefined): string[] =>
    value === undefined || value === '' ? [] : [`| ${name} | ${cell(value)} |`];
  const needs = chain.themes
    .slice(1)
    .map((each) => `${each.names.id}${each.text('version') === undefined ? '' : ` ${each.text('version')}`}`);
  const built = theme.parents.filter((id) => chain.themes.every((each) => each.names.id !== id));
  const news = headOfChangelog(theme);
  const summary = theme.text('summary');
  return [
    `# ${title}`,
    '',
    ...(summary === undefined || summary === '' ? [] : [summary, '']),
    '| | |',
    '|---|---|',
    ...row('For', platform.contract.title),
    ...row('Id', theme.names.vendor === undefined ? theme.names.id : `${theme.names.vendor}/${theme.names.id}`),
    ...row('Version', theme.text('version')),
    ...row('Releases', theme.hosts),
    ...row('Author', theme.text('author')),
    ...row('Home page', theme.text('homepage')),
    ...row('License', theme.text('license')),
    ...row('Builds on', [...needs, ...built].join(', ')),
    ...row('Tags', Array.isArray(tags) ? (tags as readonly string[]).join(', ') : undefined),
    ...(news === undefined ? [] : ['', `## What is new in ${news.version}`, '', news.text]),
    ...(parts.length === 0 ? [] : ['', '## By others', '']),
    ...parts.map(({ name, version, license }) => `- ${name}${version === undefined ? '' : ` ${version}`}: ${license ?? 'license unknown'}`),
    '',
  ].join('\n');
}

function cell(value: string): string {
  return value.replaceAll('|', '\\|').replaceAll(/\s+/g, ' ');
}
