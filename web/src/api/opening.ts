import type { FileInfo } from '@basitax/api/files';
import { type Catalogue, emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import { api } from './client.ts';

/** A revision of a file with all that it takes to show it. */
export interface Opened {
  readonly file: FileInfo;
  readonly number: number;
  readonly doc: Doc;
  readonly catalogue: Catalogue;
}

/** The catalogue that a document is pinned to. */
const catalogueOf = async ({ id, version }: Doc['head']['catalogue']): Promise<Catalogue> =>
  id === 'none' ? emptyCatalogue : api.catalogue(id, version);

async function open(id: string, number: number | 'head'): Promise<Opened> {
  const reader = import('@basitax/core/document/file');
  const info = api.file(id);
  const [file, revision, catalogue] = await Promise.all([
    info,
    api.revision(id, number),
    // that of the newest revision, in most cases the one: asked for beside the document
    info.then((known) => catalogueOf(known.catalogue)),
  ]);
  // the reader comes beside the text, and not with every page
  const { readStored } = await reader;
  const doc = readStored(revision.text);
  const { id: pinned, version } = doc.head.catalogue;
  const isOwn = pinned === file.catalogue.id && version === file.catalogue.version;
  return { file, number: revision.number, doc, catalogue: isOwn ? catalogue : await catalogueOf(doc.head.catalogue) };
}

let early: { readonly key: string; readonly opened: Promise<Opened> } | undefined;

/** Asks for what an address shows while the code that shows it is still on its way. */
export function openEarly(path: string): void {
  const [, id, number] = /^\/files\/([^/]+)(?:\/revisions\/(\d+))?\/?$/.exec(path) ?? [];
  if (id === undefined) return;
  const own = {
    key: `${decodeURIComponent(id)} ${number ?? 'head'}`,
    opened: open(decodeURIComponent(id), number === undefined ? 'head' : Number(number)),
  };
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
