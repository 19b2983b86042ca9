import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import type { GraphNode, Records, TableName } from '../document/schema.ts';
import { Applier, type Edit, read, type Step } from './step.ts';

/** Gathers steps while showing the document as it stands after them. The way in which operations write. */
export class Transaction {
  readonly before: Doc;
  private readonly steps: Step[] = [];
  private readonly applier: Applier;

  constructor(doc: Doc) {
    this.before = doc;
    this.applier = new Applier(doc);
  }

  /** One that has done an edit already. Throws StaleEdit where the edit does not fit. */
  static of(doc: Doc, edit: Edit): Transaction {
    const tx = new Transaction(doc);
    for (const step of edit.steps) tx.push(step);
    return tx;
  }

  /** The document after the steps so far. Costs as much as was changed since it was asked for last. */
  get doc(): Doc {
    return this.applier.doc;
  }

  get edit(): Edit {
    return { steps: [...this.steps] };
  }

  /** The record as it stands now, without the cost of `doc`. */
  get<T extends TableName>(table: T, id: Id): Records[T] | undefined {
    return this.applier.lookup(table, id);
  }

  /** Takes over a step as it is. Throws StaleEdit where it does not fit. */
  push(step: Step): void {
    this.applier.step(step);
    this.steps.push(step);
  }

  add<T extends TableName>(table: T, value: Records[T]): void {
    this.push({ type: 'add', table, id: value.id, value: value as unknown as Json });
  }

  /** Removes the record alone; who removes a node takes its wires away first. */
  remove(table: TableName, id: Id): void {
    const value = this.get(table, id);
    if (value) this.push({ type: 'remove', table, id, value: value as unknown as Json });
  }

  /** Sets one field; nothing happens where it has the value already. Throws StaleEdit where there is no such record. */
  set<T extends TableName, F extends keyof Records[T] & string>(
    table: T,
    id: Id,
    field: F,
    to: Records[T][F] | undefined,
  ): void {
    this.setPath(table, id, [field], to as Json | undefined);
  }

  /** Switches a mark of nodes on or off; returns those that did not have it so. */
  flag(nodes: readonly GraphNode[], field: 'bypassed' | 'closed' | 'locked' | 'pinned', on: boolean): GraphNode[] {
    const changed = nodes.filter((node) => (node[field] === true) !== on);
    for (const node of changed) this.set('nodes', node.id, field, on ? true : undefined);
    return changed;
  }

  setParameter(node: Id, parameter: string, to: Json | undefined): void {
    this.setPath('nodes', node, ['params', parameter], to);
  }

  /** Sets one entry of a map-valued field, so that two people may change different entries of it. */
  setPart<T extends TableName, F extends keyof Records[T] & string>(
    table: T,
    id: Id,
    field: F,
    part: string,
    to: Json | undefined,
  ): void {
    this.setPath(table, id, [field, part], to);
  }

  /** The same of the document itself. */
  setHeadPart(field: string, part: string, to: Json | undefined): void {
    this.setPath('head', this.before.head.id, [field, part], to);
  }

  setHead(field: string, to: Json | undefined): void {
    this.setPath('head', this.before.head.id, [field], to);
  }

  private setPath(table: TableName | 'head', id: Id, path: readonly string[], to: Json | undefined): void {
    const from = read(table === 'head' ? this.applier.headNow : this.get(table, id), path);
    if (sameJson(from, to)) return;
    this.push({ type: 'set', table, id, path, ...(from !== undefined && { from }), ...(to !== undefined && { to }) });
  }

  /** Moves a node; pixels at 100 % zoom, kept to hundredths. */
  move(node: Id, x: number, y: number): void {
    this.set('nodes', node, 'x', round(x));
    this.set('nodes', node, 'y', round(y));
  }
}

const round = (value: number): number => Math.round(value * 100) / 100 + 0;
