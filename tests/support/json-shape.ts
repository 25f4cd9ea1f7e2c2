/** The shape of JSON values that were seen: what can stand in each place. */
export interface JsonShape {
  /** How often a value stood here. */
  readonly seen: number;
  /** string, number, boolean, null */
  readonly kinds: ReadonlySet<string>;
  readonly entries?: ReadonlyMap<string, JsonShape> | undefined;
  /** Maps, so called: objects whose keys are data. */
  readonly values?: JsonShape | undefined;
  /** How many objects were seen. */
  readonly objects: number;
  readonly items?: JsonShape | undefined;
}

const NOTHING: JsonShape = { seen: 0, kinds: new Set(), objects: 0 };
const isKey = (key: string): boolean => /^[a-z][A-Za-z0-9]*$/.test(key);
/** Objects whose keys are data though they look like others: the values of a sentence. */
const MAPS = new Set(['args']);
/** Objects that hold what a platform says, in whatever form: the facts of a theme. */
const OPEN = new Set(['theme', 'facts']);

export function shapeOf(value: unknown, key = ''): JsonShape {
  if (Array.isArray(value)) return { ...NOTHING, seen: 1, items: value.map((each) => shapeOf(each)).reduce(together, NOTHING) };
  if (value === null || typeof value !== 'object') return { ...NOTHING, seen: 1, kinds: new Set([value === null ? 'null' : typeof value]) };
  if (OPEN.has(key)) return { ...NOTHING, seen: 1, objects: 1, values: NOTHING };
  const entries = Object.entries(value).map(([name, each]) => [name, shapeOf(each, name)] as const);
  if (MAPS.has(key) || !entries.every(([name]) => isKey(name)))
    return { ...NOTHING, seen: 1, objects: 1, values: entries.map(([, each]) => each).reduce(together, NOTHING) };
  return { ...NOTHING, seen: 1, objects: 1, entries: new Map(entries) };
}

export function together(one: JsonShape, other: JsonShape): JsonShape {
  const isMap = one.values !== undefined || other.values !== undefined;
  const valuesOf = ({ values, entries }: JsonShape): JsonShape => values ?? [...(entries ?? new Map()).values()].reduce(together, NOTHING);
  const keys = [...new Set([one, other].flatMap(({ entries }) => [...(entries?.keys() ?? [])]))];
  return {
    seen: one.seen + other.seen,
    kinds: new Set([...one.kinds, ...other.kinds]),
    objects: one.objects + other.objects,
    values: isMap ? together(valuesOf(one), valuesOf(other)) : undefined,
    entries:
      isMap || keys.length === 0
        ? undefined
        : new Map(keys.map((key) => [key, together(one.entries?.get(key) ?? NOTHING, other.entries?.get(key) ?? NOTHING)])),
    items: one.items === undefined || other.items === undefined ? (one.items ?? other.items) : together(one.items, other.items),
  };
}

/** A key that was in all of so many objects is required; of fewer nobody can tell. */
const MANY = 5;

/** As JSON Schema (2020-12). */
export function schemaOf(shape: JsonShape): Record<string, unknown> {
  const { kinds, entries, values, items, objects } = shape;
  const types = [...kinds, ...(objects > 0 ? ['object'] : []), ...(items === undefined ? [] : ['array'])].sort();
  const required = [...(entries ?? [])].flatMap(([key, each]) => (each.seen === objects && objects >= MANY ? [key] : []));
  return {
    ...(types.length === 0 ? {} : { type: types.length === 1 ? types[0] : types }),
    ...(entries === undefined
      ? {}
      : {
          properties: Object.fromEntries([...entries].map(([key, each]) => [key, schemaOf(each)])),
          ...(required.length === 0 ? {} : { required }),
        }),
    ...(values === undefined ? {} : { additionalProperties: schemaOf(values) }),
    ...(items === undefined ? {} : { items: schemaOf(items) }),
  };
}

/** For people: a key with `?` is not always there; `*` stands for any key. */
export function textOf({ kinds, entries, values, items, objects }: JsonShape, indent = ''): string {
  const inner = `${indent}  `;
  const rows = [
    ...[...(entries ?? [])].map(([key, each]) => `${inner}${key}${each.seen < objects ? '?' : ''}: ${textOf(each, inner)}`),
    ...(values === undefined ? [] : [`${inner}*: ${textOf(values, inner)}`]),
  ];
  const forms = [
    ...[...kinds].sort(),
    ...(objects > 0 ? [rows.length === 0 ? '{}' : `{\n${rows.join('\n')}\n${indent}}`] : []),
    ...(items === undefined ? [] : [items.seen === 0 ? '[]' : `[${textOf(items, indent)}]`]),
  ];
  return forms.length === 0 ? 'any' : forms.join(' | ');
}
