import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApplication } from './testing/application.ts';
import { pick, useBrowser } from './testing/browser.ts';
import { type Client, signedIn } from './testing/client.ts';
import { said } from './testing/wiring.ts';

const browser = useBrowser();
const kinds = new Kinds(catalogue);
let application: Awaited<ReturnType<typeof startApplication>>;
let client: Client;
beforeAll(async () => {
  // what it does reaches all files: the other tests have theirs to themselves
  application = await startApplication();
  client = await signedIn(application.address, 'editor');
});
afterAll(() => application.stop());

const docOf = async (file: string, number: number | 'head' = 'head') =>
  parseDoc(await client.text(`/api/files/${file}/revisions/${number}`)).doc;
const headOf = async (file: string): Promise<number> => JSON.parse(await client.text(`/api/files/${file}`)).head.number;

describe('G3: a batch run', () => {
  it('runs a recipe over all files, is reviewed and applied but for what is rejected, and is rolled back whole', async () => {
    const { page } = await browser.sit('editor', '/files', application.address);
    await page.getByRole('link', { name: 'Batch runs' }).click();
    const steps = page.getByRole('list', { name: 'Steps' });
    // the recipe: a script of the library, an operation, a check; arranging goes
    await steps.getByRole('button', { name: 'Remove step 1' }).click();
    await page.getByRole('button', { name: 'Add a step' }).click();
    await page.getByRole('menuitem', { name: /^Script/ }).click();
    const script = steps.getByRole('listitem', { name: 'Step 2, Script' });
    await pick(script.getByRole('combobox', { name: 'Script' }), 'Label from parameters, version 1');
    await script.getByLabel(/^Label/).fill('{name} at {radius}');
    await script.getByLabel(/^Nodes like/).fill('kind:blur or kind:smooth');
    await page.getByRole('button', { name: 'Add a step' }).click();
    await page.getByRole('menuitem', { name: /^Operation/ }).click();
    const operation = steps.getByRole('listitem', { name: 'Step 3, Operation' });
    await pick(operation.getByRole('combobox', { name: 'Operation' }), 'Put on the grid');
    await page.getByRole('button', { name: 'Move step 1 down' }).click();
    // the files: by one query, with help; a slip of the pen is told, and aims at nothing
    const aim = page.getByRole('combobox', { name: 'Files that fit' });
    await aim.fill('readab');
    await page.getByRole('option', { name: /readability</ }).click();
    await expect.poll(() => aim.inputValue()).toBe('readability<');
    await aim.fill('nodse>30');
    await page.getByText('Did you mean “nodes”?').first().waitFor();
    await aim.fill('title:line has(kind:warp)');
    await page.getByText('1 file: Projector line-up').waitFor();
    await aim.fill('');
    await page.getByText(`${demoFiles.length} files:`).waitFor();
    await page.getByLabel(/^Title of the run/).fill('On the grid');
    const started = new Map(
      await Promise.all(demoFiles.map(async (file) => [file.slug, await headOf(file.slug)] as const)),
    );
    await page.getByRole('button', { name: 'Start the dry run' }).click();
    await page.getByText('To be reviewed').waitFor({ timeout: 120_000 });
    // a dry run has stored nothing: files are as the demo left them, some with weeks of revisions
    const heads = new Map(
      await Promise.all(demoFiles.map(async (file) => [file.slug, await headOf(file.slug)] as const)),
    );
    expect(heads).toEqual(started);

    // one file is looked at: pictures, changes, steps
    await page.getByRole('button', { name: 'Title cards', exact: true }).click();
    const pane = page.getByRole('complementary', { name: 'Title cards' });
    for (const which of ['before', 'after'])
      await pane.getByRole('img', { name: `Title cards ${which} the run` }).waitFor();
    await pane.getByText('Function fingerprint: same').waitFor();
    await pane.getByRole('radio', { name: 'Steps 3' }).click();
    await pane.getByText(/Put on the grid: Put 75 nodes on a grid/).waitFor();
    await page.getByRole('button', { name: /^Accept \d+$/ }).click();
    await page.getByRole('button', { name: 'Reject Kelp growth' }).click();
    await page.getByRole('button', { name: `Apply to ${demoFiles.length - 1} files …` }).click();
    await page.getByRole('dialog').getByLabel('Message').fill('All on the grid');
    await page.getByRole('dialog').getByRole('button', { name: 'Apply' }).click();
    await page.getByRole('banner').getByText('Applied', { exact: true }).waitFor({ timeout: 120_000 });
    for (const { slug } of demoFiles) {
      expect(`${slug} ${await headOf(slug)}`).toBe(`${slug} ${heads.get(slug)! + (slug === 'kelp-growth' ? 0 : 1)}`);
      if (slug === 'kelp-growth') continue;
      expect(fingerprint(await docOf(slug), kinds)).toEqual(fingerprint(await docOf(slug, heads.get(slug)!), kinds));
    }

    await page.getByRole('button', { name: `Roll back ${demoFiles.length - 1} files` }).click();
    await page.getByText('Rolled back', { exact: true }).waitFor({ timeout: 120_000 });
    for (const { slug } of demoFiles) {
      expect(await headOf(slug)).toBe(heads.get(slug)! + (slug === 'kelp-growth' ? 0 : 2));
      expect(writeDoc(await docOf(slug)) === writeDoc(await docOf(slug, heads.get(slug)!))).toBe(true);
    }
    await said(page, `${demoFiles.length - 1} undone`);
  });

  it('accepts one change of many files by itself, starts by itself on a schedule, and is told of by a notice', async () => {
    const { page } = await browser.sit('editor', '/files', application.address);
    await page.goto(`${application.address}/batches?file=title-cards&file=line-up`);
    const steps = page.getByRole('list', { name: 'Steps' });
    const first = steps.getByRole('listitem', { name: 'Step 1, Operation' });
    await pick(first.getByRole('combobox', { name: 'Operation' }), 'Put on the grid');
    await page.getByRole('button', { name: 'Add a step' }).click();
    await page.getByRole('menuitem', { name: /^Operation/ }).click();
    const second = steps.getByRole('listitem', { name: 'Step 3, Operation' });
    await pick(second.getByRole('combobox', { name: 'Operation' }), 'Label');
    await second.getByLabel(/^Label/).fill('checked');
    await page.getByLabel(/^Title of the run/).fill('Two changes');
    await page.getByRole('button', { name: 'Schedule …' }).click();
    await page.getByRole('button', { name: 'Sun' }).click();
    await page.getByRole('button', { name: 'Schedule the run' }).click();
    const schedules = page.getByRole('region', { name: 'Schedules' });
    await schedules.getByText(/Two changes/).waitFor();
    await schedules.getByRole('button', { name: 'Run now' }).click();
    await page.getByText('To be reviewed').waitFor({ timeout: 60_000 });
    await page.getByRole('radio', { name: 'Changes', exact: true }).click();
    const changes = page.getByRole('region', { name: 'Changes', exact: true });
    await changes.getByRole('button', { name: /^Place and size/ }).click();
    await page.getByRole('img', { name: /^Where it lies/ }).waitFor();
    await changes.getByRole('button', { name: 'Accept Label' }).first().click();
    await changes
      .getByText('left out in', { exact: false })
      .or(changes.getByText('left out', { exact: true }))
      .first()
      .waitFor();
    await page.getByRole('button', { name: /^Apply to \d files? …/ }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Apply', exact: true }).click();
    await page.getByText('Applied', { exact: true }).waitFor({ timeout: 60_000 });
    const [before, after] = [await docOf('title-cards', (await headOf('title-cards')) - 1), await docOf('title-cards')];
    const moved = [...after.nodes.values()].filter((node) => node.x !== before.nodes.get(node.id)?.x);
    expect(moved).toEqual([]);
    expect([...after.nodes.values()].some((node) => node.label === 'checked')).toBe(true);
    await page.goto(`${application.address}/files`);
    await page.getByRole('button', { name: /^Notices/ }).click();
    await page
      .getByRole('link', { name: /“Two changes” is applied/ })
      .first()
      .waitFor();
  });
});
