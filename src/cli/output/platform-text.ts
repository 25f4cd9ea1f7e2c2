import type { Platform } from '../../core/platform/platform.ts';
import type { DocumentContract, FactCondition, FieldContract, PlatformContract } from '../../core/platform/schema.ts';
import type { Kit } from '../../core/scaffold/kit.ts';
import type { Paint } from './paint.ts';

/** “where kind is theme or kit”. */
function conditionText({ fact, is }: FactCondition): string {
  return is.includes('*') ? `where ${fact} is stated` : `where ${fact} is ${is.join(' or ')}`;
}

const NEEDS = { always: 'required', standalone: 'required without a parent', child: 'required in a child', no: '' } as const;

/** A platform as a page to read: what a theme for it must have, and what happens when something is missing. */
export function platformText({ contract, file }: Platform, kits: readonly Kit[], paint: Paint): string {
  const section = (title: string, lines: readonly string[]): string[] =>
    lines.length === 0 ? [] : ['', paint.strong(title), ...lines.map((line) => `  ${line}`)];
  const { templates, inheritance, regions, identifiers } = contract;
  const roles = Object.entries(templates?.roles ?? {}).map(
    ([name, role]) => `${paint.name(name.padEnd(10))} ${role.file}${role.else === undefined ? '' : paint.faint(`, else ${role.else}`)}`,
  );
  return [
    `${paint.strong(contract.title)} ${paint.faint(`(${contract.name}, releases ${contract.releases.join(', ')}${contract['tried-with'].length === 0 ? '' : `, tried with ${contract['tried-with'].join(', ')}`}; ${file})`)}`,
    contract.summary,
    ...section('Names', [
      `${'home'.padEnd(10)} ${contract.home}`,
      `${'id'.padEnd(10)} ${contract.id.grammar}`,
      ...(contract.vendor === undefined ? [] : [`${'vendor'.padEnd(10)} ${contract.vendor.grammar}`]),
    ]),
    ...contract.documents.flatMap((document) => documentLines(document, paint)),
    ...section(
      'Files',
      contract.files.map((rule) => {
        const notes = [
          spanned(NEEDS[rule.required], rule),
          rule['required-when'] === undefined ? '' : `required ${conditionText(rule['required-when'])}`,
          rule['moved-to'] === undefined ? '' : `from release ${rule.since} on in ${rule['moved-to']}`,
          rule.empty === 'blank' ? 'an empty one shows a blank page' : '',
        ];
        return `${rule.path}  ${paint.faint(notes.filter(Boolean).join('; '))}${rule.without === undefined ? '' : paint.faint(`; without it ${rule.without}`)}`;
      }),
    ),
    ...section(
      'Images',
      contract.images.map((image) => {
        const size = image.width === undefined ? '' : `${image.width} × ${image.height} pixels`;
        return `${paint.name(image.role.padEnd(10))} ${image.path}  ${paint.faint([image.formats.join(' or '), size].filter(Boolean).join(', '))}${image.without === undefined ? '' : paint.faint(`; without it ${image.without}`)}`;
      }),
    ),
    ...section('Templates', templateLines(contract)),
    ...section('Pages', roles),
    ...section(
      'States that the stand-in host shows pages in',
      Object.entries(contract.states).map(([name, state]) => `${paint.name(name.padEnd(14))} ${state.roles.join(', ')}`),
    ),
    ...section('Packages', packageLines(contract, paint)),
    ...section('Addresses', addressLines(contract)),
    ...section('Texts', stringLines(contract)),
    ...section(
      'Templates must hold',
      (templates?.fragments ?? []).map(
        (fragment) => `${fragment.text}  ${paint.faint(`where there is ${fragment['when-holds']}; else ${fragment.why}`)}`,
      ),
    ),
    ...section(
      'Regions',
      regions === undefined
        ? []
        : [
            `printed as ${regions.printed}, declared by the fact ${regions.fact}`,
            ...(regions.defaults.length === 0 ? [] : [paint.faint(`when none is declared: ${regions.defaults.join(', ')}`)]),
          ],
    ),
    ...section(
      'Names in code',
      identifiers.map((each) => `${each.shape.join(' or ')}  ${paint.faint(`in ${each.files.join(', ')}: ${each.why}`)}`),
    ),
    ...section(
      'Parents',
      inheritance.kind === 'none'
        ? ['none']
        : [
            `${inheritance.kind === 'chain' ? 'parents of parents' : 'one parent'}, named by the fact ${inheritance.fact}; inherited: ${inheritance.inherits.join(', ')}`,
            ...(inheritance.merges.length === 0 ? [] : [`merged entry by entry: ${inheritance.merges.join(', ')}`]),
            ...(inheritance['built-in'].length === 0 ? [] : [`the host brings ${inheritance['built-in'].join(', ')}`]),
          ],
    ),
    ...section('Package', [
      `${contract.package.formats.join(' or ')}, ${contract.package.top === '' ? 'its root is the theme' : `everything in ${contract.package.top}/`}; left out: ${contract.package['leave-out'].join(' ')}`,
    ]),
    ...section(
      'Kits',
      kits.map((kit) => `${paint.name(kit.name.padEnd(10))} ${kit.about}`),
    ),
  ].join('\n');
}

/** A line that says that a platform has no pages; empty for one that has some. */
export function noTemplatesText({ contract: { title, templates } }: Platform, paint: Paint): string {
  return templates === undefined ? `\n${noPagesText(title, paint)}` : '';
}

/** @param title of a platform whose file describes no templates */
export function noPagesText(title: string, paint: Paint): string {
  return `${paint.faint('–')} ${title}: the platform file describes no templates, so there are no pages to show.`;
}

function templateLines({ templates }: PlatformContract): string[] {
  if (templates === undefined) return [];
  const { language, files, 'named-theme': named } = templates;
  const called = typeof language === 'string' ? language : (language.called ?? 'a language described by its tags');
  const { partials } = templates;
  const others = templates.languages.map(
    ({ files: own, language: other }) => `${typeof other === 'string' ? other : (other.called ?? 'another language')}, in ${own.join(' ')}`,
  );
  return [
    `${called}, in ${files.join(' ')}`,
    ...others,
    ...(templates.endings.length === 0 ? [] : [`a page or an include may end with any of ${templates.endings.join(' ')}`]),
    ...(partials === undefined ? [] : [`an include is looked for as ${partials.file}${RELATIVE[partials.relative]}`]),
    ...templates['parent-named'].map((shape) => `${shape} names a parent`),
    ...(named === undefined ? [] : [`an include names another theme as ${named}`]),
  ];
}

const RELATIVE = {
  never: '',
  dotted: ', from the including file’s folder where it begins with a dot',
  first: ', first in the including file’s folder',
  always: ', in the including file’s folder',
} as const;

function stringLines({ strings }: PlatformContract): string[] {
  if (strings === undefined) return [];
  const host = strings['host-keys'];
  return [
    `${strings.format}, in ${strings.file}${strings.incomplete ? ', which may lack texts' : ''}`,
    ...(strings.used === undefined ? [] : [`${strings.used} asks for one`]),
    ...(strings.keys === undefined ? [] : [`their keys look like ${strings.keys}`]),
    ...(host.length === 0 ? [] : [`the host has ${host.join(', ')} itself`]),
  ];
}

function addressLines({ assets, made, references }: PlatformContract): string[] {
  return [
    ...(assets['theme-root'] === undefined ? [] : [`${assets['theme-root']} is the theme’s folder`]),
    ...assets.addresses.map((shape) => `${shape} asks for a file`),
    ...assets.served.map(({ folder, as }) => `${folder}/ is ${as}/ in pages`),
    ...references.map(
      ({ files, shape, under, relative }) =>
        `${shape} in ${files.join(' ')} names a file${under === undefined ? (relative ? ' beside it' : '') : ` in ${under}/`}`,
    ),
    ...made.map(({ file, from }) => `${file} is made of ${from}`),
  ];
}

function documentLines(document: DocumentContract, paint: Paint): string[] {
  const condition = document['required-when'];
  const need = [spanned(NEEDS[document.required], document), condition === undefined ? '' : `required ${conditionText(condition)}`]
    .filter(Boolean)
    .join(', ');
  const head = `${paint.strong(document.path)} ${paint.faint(`(${[document.syntax, need].filter(Boolean).join(', ')})`)}`;
  const without = document.without === undefined ? [] : [paint.faint(`  without it ${document.without}`)];
  const width = Math.max(0, ...document.fields.map((field) => keyText(field).length));
  return [
    '',
    head,
    ...without,
    ...document.fields.map((field) => `  ${paint.name(keyText(field).padEnd(width))}  ${fieldText(field, paint)}`),
  ];
}

function keyText(field: FieldContract): string {
  return typeof field.key === 'string' ? field.key : field.key.join(' › ');
}

function fieldText(field: FieldContract, paint: Paint): string {
  const own = field.of === undefined ? field.type : `${field.type} of ${field.of}`;
  const type = [own, ...(field.or ?? [])].join(' or ');
  const parts = [
    field.shape ?? type,
    spanned(NEEDS[field.required], field),
    field.values === undefined ? '' : `one of ${field.values.join(' | ')}`,
    field.none === undefined ? '' : `“${field.none}” for none`,
    field.pattern === undefined ? '' : (field.grammar ?? `like ${field.pattern}`),
    field['required-when'] === undefined ? '' : `required ${conditionText(field['required-when'])}`,
    field['allowed-when'] === undefined ? '' : `only ${conditionText(field['allowed-when'])}`,
    field['other-fields'] === undefined ? '' : `other keys in it are ${field['other-fields']}`,
    field.marker ? 'only in kits' : '',
  ];
  return `${parts.filter(Boolean).join(', ')}${field.about === undefined ? '' : `  ${paint.faint(field.about)}`}`;
}

function spanned(text: string, { since, until }: { since?: string | undefined; until?: string | undefined }): string {
  return [text, since === undefined ? '' : `from release ${since}`, until === undefined ? '' : `up to release ${until}`]
    .filter(Boolean)
    .join(' ');
}

function packageLines({ package: { formats, name, top, forms } }: Platform['contract'], paint: Paint): string[] {
  return formats.map((format) => {
    const form = forms[format];
    const folder = form?.top ?? top;
    const adds = (form?.adds ?? []).map(({ path }) => path);
    const notes = [
      folder === '' ? 'the theme itself at its root' : `everything in ${folder}/`,
      ...(adds.length === 0 ? [] : [`with ${adds.join(', ')}`]),
    ];
    return `${form?.name ?? name}.${format}  ${paint.faint(notes.join('; '))}`;
  });
}
