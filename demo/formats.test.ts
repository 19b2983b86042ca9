import { Kinds } from '@basitax/core/document/kinds';
import { formatOf, written } from '@basitax/core/formats/formats';
import { openMaterialx } from '@basitax/core/tests/outside';
import { expect, it } from 'vitest';
import { catalogue } from './catalogue.ts';
import { demoFiles } from './files.ts';

const kinds = new Kinds(catalogue);

it('every file of the demo is valid MaterialX by the reference library (@needle-tools/materialx), and loses nothing in it', async () => {
  const library = await openMaterialx();
  for (const file of demoFiles) {
    const doc = file.build();
    const { text, lost } = written(formatOf('x.mtlx'), doc, kinds);
    expect([doc.head.title, lost, await library.check(text)]).toEqual([doc.head.title, [], '']);
  }
}, 120_000);
