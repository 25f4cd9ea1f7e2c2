import { compareText } from '../../core/files/file-tree.ts';
import { bytes, type Paint } from './paint.ts';

/** A path to be drawn, with its size when it is a file. */
export interface TreeLine {
  readonly path: string;
  readonly size?: number | undefined;
  readonly note?: string | undefined;
}

interface Node {
  readonly children: Map<string, Node>;
  line?: TreeLine;
}

/** Draws paths as a tree, folders first line by line; of a folder with more than `most` entries the rest is counted. */
export function treeText(lines: readonly TreeLine[], paint: Paint, most = 14): string {
  const root: Node = { children: new Map() };
  for (const line of lines) {
    let node = root;
    for (const part of line.path.split('/')) {
      let next = node.children.get(part);
      if (next === undefined) node.children.set(part, (next = { children: new Map() }));
      node = next;
    }
    node.line = line;
  }
  return draw(root, '', paint, most).join('\n');
}

function draw(node: Node, indent: string, paint: Paint, most: number): string[] {
  const children = [...node.children].sort(([a], [b]) => compareText(a, b));
  const shown = children.length > most ? children.slice(0, most - 1) : children;
  const lines = shown.flatMap(([name, child], i) => {
    const isLast = i === children.length - 1;
    const isFolder = child.children.size > 0 || child.line?.size === undefined;
    const size = isFolder ? '' : paint.faint(`  ${bytes(child.line?.size ?? 0)}`);
    const note = child.line?.note === undefined ? '' : paint.faint(`  ${child.line.note}`);
    const label = isFolder ? paint.name(`${name}/`) : name;
    return [
      `${paint.faint(`${indent}${isLast ? '└── ' : '├── '}`)}${label}${size}${note}`,
      ...draw(child, `${indent}${isLast ? '    ' : '│   '}`, paint, most),
    ];
  });
  if (shown.length < children.length) lines.push(paint.faint(`${indent}└── … and ${children.length - shown.length} more`));
  return lines;
}
