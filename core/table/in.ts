import { attributesIn, valueOfText } from '../document/attributes.ts';
import { type Doc, indexOf, nodePath, nodesByPath } from '../document/doc.ts';
import { framedRect, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import { sameJson } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { nameShape, takenSentence } from '../document/names.ts';
import { type GraphNode, mostLabel } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { hasColumn, hasParameter, misfit, passedOver } from '../structure/parameters.ts';
import { renameNode } from '../structure/rename.ts';
import {
  type Cell,
  cellOf,
  cellValue,
  columnParameter,
  fileColumn,
  fileIdColumn,
  idColumns,
  type Row,
  type TableField,
  tableFields,
  toDefault,
  toNone,
} from './cells.ts';
import { find, say as saying } from './sentences.ts';

export interface ReadTable {
  readonly edit: Edit;
  /** Rows and cells that could not be taken, each with its line. */
  readonly findings: readonly Finding[];
  readonly rows: number;
  readonly changes: number;
}

/** Which file is read of a table of several: by its id where rows have one, else by its name. */
export interface WhichFile {
  readonly name: string;
  readonly id?: string;
}

const text = (cell: Cell | undefined): string => String(cell ?? '').trim();

/** Whether a row of a table with this head is about a file; all are where the table is of one. */
export function isAbout(head: readonly string[], { cells }: Row, file: WhichFile | undefined): boolean {
  const [nameAt, idAt] = [head.indexOf(fileColumn), head.indexOf(fileIdColumn)];
  if (file === undefined || (nameAt < 0 && idAt < 0)) return true;
  const id = idAt < 0 ? '' : text(cells[idAt]);
  return id !== '' && file.id !== undefined ? id === file.id : text(cells[nameAt]) === file.name;
}

/** The names of the columns, from the first row. */
export const headIn = (rows: readonly Row[]): string[] => (rows[0]?.cells ?? []).map(text);

/**
 * Reads a table back: what differs from what is there becomes the edit. An empty cell leaves a value as it is, but for
 * labels, which it takes off; `(default)` takes a parameter back to that of the kind, `(none)` a colour off, and a node
 * out of its frame. A frame that is not there is made. Rows go by id, where there is none by path. What cannot be taken
 * is said by line and left. O(rows · columns).
 */
export function readTable(
  doc: Doc,
  kinds: Kinds,
  rows: readonly Row[],
  newId: (prefix: string) => string,
  file?: WhichFile,
): ReadTable {
  return new TableReader(doc, kinds, newId).read(rows, file);
}

class TableReader {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly newId: (prefix: string) => string;
  private readonly tx: Transaction;
  private readonly findings: Finding[] = [];
  private readonly renames = new Map<Id, { readonly name: string; readonly line: number }>();
  private readonly framed = new Map<string, GraphNode[]>();

  constructor(doc: Doc, kinds: Kinds, newId: (prefix: string) => string) {
    this.doc = doc;
    this.kinds = kinds;
    this.newId = newId;
    this.tx = new Transaction(doc);
  }

  read(rows: readonly Row[], file: WhichFile | undefined): ReadTable {
    const head = headIn(rows);
    const [idAt, pathAt] = [head.indexOf('id'), head.indexOf('path')];
    if (idAt < 0 && pathAt < 0) {
      this.say(rows[0]?.line ?? 1, saying('no-head').message);
      return this.done(0);
    }
    const columns = this.columns(head);
    const byPath = nodesByPath(this.doc);
    const seen = new Map<Id, number>();
    for (const row of rows.slice(1)) {
      if (!isAbout(head, row, file)) continue;
      const { line, cells } = row;
      const [id, path] = [idAt < 0 ? '' : text(cells[idAt]), pathAt < 0 ? '' : text(cells[pathAt])];
      const node = this.doc.nodes.get(id) ?? this.doc.nodes.get(byPath.get(path) ?? '');
      if (!node) {
        this.say(line, saying('no-node', { id, path }).message);
        continue;
      }
      const first = seen.get(node.id);
      if (first !== undefined) {
        this.say(line, saying('twice', { path: nodePath(this.doc, node), first }).message, node.id);
        continue;
      }
      seen.set(node.id, line);
      if (cells.length !== head.length)
        this.say(line, saying('other-length', { cells: cells.length, head: head.length }).message, node.id);
      for (const { name, i } of columns) this.take(node, name, cells[i] ?? '', line);
    }
    this.rename();
    this.frame();
    return this.done(seen.size);
  }

  private done(rows: number): ReadTable {
    const { edit } = this.tx;
    return { edit, findings: this.findings, rows, changes: edit.steps.length };
  }

  private say(line: number, message: string, node?: Id): void {
    this.findings.push(find('table', 'warning', node === undefined ? [] : [node], 'bad-line', { line, message }));
  }

  /** The columns that are read, each with its place; what is wrong with them is said of the first line. */
  private columns(head: readonly string[]): { name: string; i: number }[] {
    const others: readonly string[] = [fileColumn, fileIdColumn, ...idColumns];
    const columns = head.map((name, i) => ({ name, i })).filter(({ name }) => name !== '' && !others.includes(name));
    const doubled = columns.find(({ name, i }) => head.indexOf(name) !== i);
    if (doubled) this.say(1, saying('doubled-column', { column: doubled.name }).message);
    const all = [...this.doc.nodes.values()];
    for (const { name } of columns)
      if (!isField(name) && !all.some((node) => hasColumn(this.kinds, node, columnParameter(name))))
        this.say(1, saying('no-parameter', { column: name }).message);
    return columns;
  }

  private take(node: GraphNode, column: string, cell: Cell, line: number): void {
    if (isField(column)) this.takeField(node, column, cell, line);
    else if (!hasParameter(this.kinds, node, columnParameter(column)) && this.isAttribute(columnParameter(column)))
      this.takeAttribute(node, columnParameter(column), cell);
    else this.takeParameter(node, columnParameter(column), cell, line);
  }

  private isAttribute(name: string): boolean {
    return attributesIn(this.doc, 'node').some((one) => one.name === name);
  }

  /** An attribute takes any value; an empty cell leaves it as it is. */
  private takeAttribute(node: GraphNode, name: string, cell: Cell): void {
    const said = String(cell);
    if (said === '') return;
    const type = attributesIn(this.doc, 'node').find((one) => one.name === name)?.holds ?? 'text';
    const value = typeof cell === 'string' ? valueOfText(cell, type) : type === 'text' ? said : cell;
    this.tx.setPart('nodes', node.id, 'attributes', name, said.trim() === toNone ? undefined : value);
  }

  private takeField(node: GraphNode, field: TableField, cell: Cell, line: number): void {
    const value = String(cell);
    const isOff = value.trim() === toNone;
    switch (field) {
      case 'name':
        if (value !== '' && value !== node.name) this.renames.set(node.id, { name: value, line });
        return;
      case 'label':
        if (value.length > mostLabel) this.say(line, saying('label-too-long', { node: node.name }).message, node.id);
        else this.tx.set('nodes', node.id, 'label', value === '' || isOff ? undefined : value);
        return;
      case 'color':
        if (value === '') return;
        if (!isOff && !/^#[0-9a-f]{6}$/i.test(value.trim()))
          this.say(line, saying('no-color', { node: node.name, value }).message, node.id);
        else this.tx.set('nodes', node.id, 'color', isOff ? undefined : value.trim().toLowerCase());
        return;
      case 'frame':
        this.takeFrame(node, value, isOff, line);
    }
  }

  private takeFrame(node: GraphNode, title: string, isOff: boolean, line: number): void {
    const present = node.frame === undefined ? undefined : this.doc.frames.get(node.frame);
    if (title === '' || title === present?.title) return;
    if (isOff) {
      this.tx.set('nodes', node.id, 'frame', undefined);
      return;
    }
    const own = indexOf(this.doc)
      .framesIn(node.graph)
      .filter((frame) => frame.title === title);
    const [only, ...more] = own;
    if (more.length > 0) this.say(line, saying('several-frames', { title, count: own.length }).message, node.id);
    else if (only) this.tx.set('nodes', node.id, 'frame', only.id);
    else if (title.length > 500) this.say(line, saying('title-too-long').message, node.id);
    else addTo(this.framed, JSON.stringify([node.graph, title]), node);
  }

  /** Names are exchanged as a whole: what is free in the end counts. A name that stays taken is left. */
  private rename(): void {
    for (const [id, { name, line }] of this.renames) {
      const problem = nameShape(name);
      if (!problem) continue;
      this.say(line, problem.message, id);
      this.renames.delete(id);
    }
    for (;;) {
      const taken = new Map<string, Id>();
      const keyOf = (node: GraphNode, name: string): string => JSON.stringify([node.graph, name]);
      for (const node of this.doc.nodes.values())
        if (!this.renames.has(node.id)) taken.set(keyOf(node, node.name), node.id);
      const refused = [...this.renames].find(([id, { name }]) => {
        const key = keyOf(must(this.doc.nodes.get(id)), name);
        if (taken.has(key)) return true;
        taken.set(key, id);
        return false;
      });
      if (!refused) break;
      const [id, { name, line }] = refused;
      this.say(line, takenSentence(name).message, id);
      this.renames.delete(id);
    }
    for (const [id, { name }] of this.renames) renameNode(this.tx, this.doc, must(this.doc.nodes.get(id)), name);
  }

  /** Makes the frames that are not there, around their nodes. */
  private frame(): void {
    for (const [key, nodes] of this.framed) {
      const [graph, title] = JSON.parse(key) as [Id, string];
      const id = this.newId('f');
      this.tx.add('frames', {
        id,
        graph,
        title,
        ...framedRect(nodes.map((node) => rectOf(this.doc, this.kinds, node))),
      });
      for (const node of nodes) this.tx.set('nodes', node.id, 'frame', id);
    }
  }

  private takeParameter(node: GraphNode, id: string, cell: Cell, line: number): void {
    const { kinds } = this;
    const present = kinds.value(node, id);
    const before = cellOf(present);
    if (cell === '' || String(cell) === String(before)) return;
    const skipped = passedOver(kinds, node, id, false);
    if (skipped) {
      this.say(line, skipped.message, node.id);
      return;
    }
    if (String(cell).trim() === toDefault) {
      this.tx.setParameter(node.id, id, undefined);
      return;
    }
    const spec = kinds.parameter(node.kind, id);
    const value = cellValue(spec, cell, present);
    const problem =
      value === undefined
        ? (misfit(kinds, node, id, String(cell))?.message ??
          saying('no-value', { node: node.name, value: String(cell), parameter: id }).message)
        : misfit(kinds, node, id, value)?.message;
    if (problem) this.say(line, problem, node.id);
    else if (!sameJson(value, present)) this.tx.setParameter(node.id, id, value);
  }
}

const isField = (column: string): column is TableField => (tableFields as readonly string[]).includes(column);
