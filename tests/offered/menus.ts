import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { until } from '../server/instance';
import { openWalk, type Walk } from './walk';

/** Every head that a strand can begin at, with its sheet, every action of a step and of a strand, and every menu of the screen, on a demo shot. */
export function walkMenus(shot: 'Orrery Hall' | 'Moth and Comet'): void {
  let walk: Walk;
  let start: string;
  beforeAll(async () => {
    walk = await openWalk(shot);
    start = await walk.same();
  }, 300_000);
  afterAll(() => walk?.end());

  const heads = 'ul[aria-label=Heads] button';
  const openHeads = async () => {
    const there = () =>
      walk.page.run<string[] | false>(
        `const all = [...document.querySelectorAll(arguments[0])].map((b) => b.textContent); return all.length > 0 && all`,
        heads,
      );
    // A box that has just closed may still hold the keys.
    return until('the heads', async () => {
      const already = await there();
      if (already) return already;
      await walk.page.run('document.activeElement?.blur()');
      await walk.browser.driver.actions().keyDown(Key.SHIFT).sendKeys('a').keyUp(Key.SHIFT).perform();
      return there();
    });
  };

  test('every head begins a strand, and all that its sheet offers does something', async () => {
    const plain = await walk.makePlain();
    const names = await openHeads();
    await walk.page.press(Key.ESCAPE);
    const trouble: string[] = [];
    for (const [i, name] of names.entries()) {
      await openHeads();
      // What was used of late stands on top: the entry is found by its words. A pass that is there already is chosen.
      await walk
        .changesOrSelects(() =>
          walk.page.run(
            `[...document.querySelectorAll(arguments[0])].find((b) => b.textContent === arguments[1]).click()`,
            heads,
            name,
          ),
        )
        .then(
          async () => trouble.push(...(await walk.sheet(i)).map((words) => `${name}: ${words}`)),
          () => trouble.push(`${name}: no strand`),
        );
      await walk.back(plain);
    }
    await walk.back(start);
    expect(trouble).toEqual([]);
  }, 900_000);

  test('every action of a step and of a strand changes the document, saves a file, or opens what it names', async () => {
    const { main, strands } = await walk.finish();
    const own = strands.find((s) => s.id === main)!;
    const trouble: string[] = [];
    for (const target of [...own.steps.map((s) => s.id), ...strands.map((s) => s.id)]) {
      await walk.select(target);
      trouble.push(...(await walk.actions()).map((words) => `${target}: ${words}`));
      expect(await walk.same()).toBe(start);
    }
    expect(trouble).toEqual([]);
  }, 600_000);

  test('every menu of the screen opens, and its entries look at the document without changing it', async () => {
    expect(await walk.menus()).toEqual([]);
    expect(await walk.same()).toBe(start);
  }, 300_000);
}
