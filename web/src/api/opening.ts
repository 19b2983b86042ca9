import { type Catalogue, emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import { readStored } from '@basitax/core/document/file';
import type { FileInfo } from '@basitax/server/api';
import { api } from './client.ts';

/** A revision of a file with all that it takes to show it. */
export interface Opened {
  readonly file: FileInfo;
  readonly number: number;
  readonly doc: Doc;
  readonly catalogue: Catalogue;
}

async function open(id: string, number: number | 'head'): Promise<Opened> {
  const info = api.file(id);
  const [file, revision, catalogue] = await Promise.all([
    info,
    api.revision(id, number),
    info.then((known) => (known.catalogue.id === 'none' ? emptyCatalogue : api.catalogue(known.catalogue.id, known.catalogue.version))),
  ]);
  return { file, number: revision.number, doc: readStored(revision.text), catalogue };
}

let early: { readonly key: string; readonly opened: Promise<Opened> } | undefined;

/** Asks for what an address shows while the code that shows it is still on its way. */
export function openEarly(path: string): void {
  const [, id, number] = /^\/files\/([^/]+)(?:\/revisions\/(\d+))?\/?$/.exec(path) ?? [];
  if (id === undefined) return;
  const own = { key: `${decodeURIComponent(id)} ${number ?? 'head'}`, opened: open(decodeURIComponent(id), number === undefined ? 'head' : Number(number)) };
  early = own;
  own.opened.catch(() => {
    // whoever shows the file asks again, and says what is wrong
    if (early === own) early = undefined;
  });
}

/** Reads a revision, or takes over what was asked for early. */
export function openFile(id: string, number: number | 'head'): Promise<Opened> {
  const asked = early?.key === `${id} ${number}` ? early.opened : undefined;
  early = undefined;
  return asked ?? open(id, number);
}
