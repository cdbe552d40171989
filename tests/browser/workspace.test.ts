import { By, Key, Origin, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { Reference } from '../../api/references';
import { addStep, addStrand, linkSlot, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, writeFrames } from './small-shot';

/** The room to work in: panels, the board with many strands, keys, sheets, references and the viewer's own window, by hand and by keyboard. */
let zaf: Instance;
let browser: Browser;
let shot: number;
let address: string;
const data = temporaryFolder();
const frames = temporaryFolder();
const page = onPage(() => browser);
const { attribute, button, find, press, run, saved, settled, text, undo, waitFor } = page;

/** A main strand of five steps, and a dozen strands that its masks come from, each with a key and a feather. */
function wide(): Finish {
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  for (const [i, type] of ['bloom', 'blur', 'gain', 'vignette', 'grain'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  for (let i = 1; i <= 12; i++) {
    doc = addStrand(doc, { type: 'pass', media: 'hall', pass: '' }, 'picture', `Key ${i}`).apply(doc);
    const { id } = doc.strands.at(-1)!;
    doc = addStep(id, 0, 'luminance-key', `key-${i}`).apply(doc);
    doc = addStep(id, 1, 'feather', `soft-${i}`).apply(doc);
  }
  const masks = ['bloom', 'blur', 'gain', 'vignette', 'grain'];
  masks.forEach((step, i) => {
    doc = linkSlot(doc, step, 'mask', { strand: doc.strands[i * 2 + 2].id, after: 'end' }).apply(doc);
  });
  return doc;
}

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2, 3])]);
  address = await giveFinish(zaf.address, shot, wide());
  browser = await openBrowser(true);
  await open();
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

async function open() {
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await waitFor('[data-testid=viewer]');
  await settled();
}
const document = async () => {
  await saved();
  return (await json<SavedFinish>(address)).document;
};
const widthOf = (id: string) =>
  run<number>(`return document.getElementById(arguments[0]).getBoundingClientRect().width`, id);
const chord = async (key: string, ...modifiers: string[]) => {
  await run('document.activeElement?.blur()');
  const hand = browser.driver.actions();
  for (const m of modifiers) hand.keyDown(m);
  hand.sendKeys(key);
  for (const m of modifiers) hand.keyUp(m);
  await hand.perform();
};
const selected = () => attribute('[data-card][data-selected=true]', 'data-step');
const scale = async () => Number((await text('[data-testid=board-scale]')).replace(/\D/g, ''));
const size = (width: number, height: number) =>
  (
    browser.driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> }
  ).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });
/** How many cards lie wholly inside the board's panel. */
const cardsSeen = () =>
  run<number>(`
    const panel = document.querySelector('[data-testid=board]').getBoundingClientRect();
    return [...document.querySelectorAll('[data-step]')].filter((card) => {
      const r = card.getBoundingClientRect();
      return r.left >= panel.left - 1 && r.right <= panel.right + 1 && r.top >= panel.top - 1 && r.bottom <= panel.bottom + 1;
    }).length;`);

describe('panels', () => {
  test('an edge is dragged, and its place is there again after the page is loaded anew', async () => {
    const before = await widthOf('board');
    const edge = await find('#edge-of-board');
    await browser.driver
      .actions({ async: true })
      .move({ origin: edge })
      .press()
      .move({ origin: Origin.POINTER, x: 60, duration: 80 })
      .move({ origin: Origin.POINTER, x: 40, duration: 80 })
      .release()
      .perform();
    await until('wider', async () => Math.abs((await widthOf('board')) - before - 100) < 6);
    await browser.driver.navigate().refresh();
    await settled();
    expect(Math.abs((await widthOf('board')) - before - 100)).toBeLessThan(6);
  });

  test('an edge is moved by the keyboard', async () => {
    const before = await widthOf('sheet');
    await run(`document.querySelector('#edge-of-sheet').focus()`);
    await browser.driver.actions().sendKeys(Key.ARROW_LEFT).perform();
    await until('wider', async () => (await widthOf('sheet')) > before + 10);
    await browser.driver.actions().sendKeys(Key.ARROW_RIGHT).perform();
  });

  test('one key gives the middle to the board and back; each keeps its own sizes', async () => {
    const looking = await widthOf('board');
    await press('g');
    await until('the board in the middle', async () => (await widthOf('board')) > (await widthOf('viewer')));
    await browser.driver.navigate().refresh();
    await settled();
    expect(await widthOf('board')).toBeGreaterThan(await widthOf('viewer'));
    await press('g');
    await until('as before', async () => Math.abs((await widthOf('board')) - looking) < 3);
  });

  test('panels fold by the menu, which closes after the choice, and the usual sizes come back', async () => {
    const choose = async (words: string) => {
      await (await find('summary[aria-label=Panels]')).click();
      await (await button(words)).click();
      expect(await attribute('details:has(summary[aria-label=Panels])', 'open')).toBeNull();
    };
    await choose('Fold, unfold the board');
    await until('folded', async () => (await widthOf('board')) === 0);
    await browser.driver.navigate().refresh();
    await settled();
    expect(await widthOf('board')).toBe(0);
    await choose('Fold, unfold the board');
    await until('unfolded', async () => (await widthOf('board')) > 150);
    await choose('Fold the frames');
    expect(await run(`return document.querySelector('[aria-label=Frames]').clientHeight`)).toBeLessThan(50);
    await choose('Usual sizes');
    expect(await run(`return document.querySelector('[aria-label=Frames]').clientHeight`)).toBeGreaterThan(
      80,
    );
  });

  test('theatre leaves the picture alone, and gives everything back', async () => {
    const before = await widthOf('board');
    await press('h');
    await until('theatre', async () => (await widthOf('viewer')) > 1200);
    expect(await widthOf('board')).toBe(0);
    await press('h');
    await until('back', async () => (await widthOf('board')) === before);
  });

  test('it is sensible on half a screen and on a large one', async () => {
    await size(640, 800);
    // The board stands above the viewer.
    await until('one above the other', () =>
      run<boolean>(`const [b, v] = ['board', 'viewer'].map((id) => document.getElementById(id).getBoundingClientRect());
          return b.bottom <= v.top + 4 && Math.abs(b.width - v.width) < 2;`),
    );
    expect(await widthOf('viewer')).toBeGreaterThan(300);
    expect(await run(`return document.documentElement.scrollWidth`)).toBeLessThanOrEqual(640);
    for (const [w, h] of [
      [1920, 1080],
      [3840, 2160],
    ]) {
      await size(w, h);
      await until('wide', async () => (await widthOf('viewer')) > w * 0.4);
      expect(await widthOf('sheet')).toBeGreaterThanOrEqual(300);
      expect(await run(`return document.documentElement.scrollWidth`)).toBeLessThanOrEqual(w);
    }
    await size(1280, 800);
    await settled();
  });
});

describe('the board with many strands', () => {
  test('all of it is fitted in; the overview frames what is seen, and is dragged to look elsewhere', async () => {
    await press('g');
    await waitFor('[data-testid=overview]');
    expect(await cardsSeen()).toBeLessThan(29);
    await press('z');
    await until('all strands', async () => (await cardsSeen()) === 29);
    expect(await scale()).toBeLessThan(70);
    // All is seen: an overview would tell nothing.
    await until(
      'no overview',
      async () => !(await run(`return document.querySelector('[data-testid=overview]')`)),
    );
    await (await find('[aria-label="Board"] [data-testid=board-scale]')).click();
    await until('full size', async () => (await scale()) === 100);
    const x = () => attribute('[data-testid=overview-frame]', 'x');
    const before = await x();
    const map = await waitFor('[data-testid=overview]');
    await browser.driver
      .actions({ async: true })
      .move({ origin: map, x: 10, y: 0 })
      .press()
      .move({ origin: map, x: 40, y: 0, duration: 80 })
      .release()
      .perform();
    await until('elsewhere', async () => (await x()) !== before);
  });

  test('thirteen strands are readable at 1280 by 800 without scrolling sideways more than once', async () => {
    // Letters of a card's name from 9 pixels on, and two panels hold all columns.
    const found = await run<{ letters: number; wide: number; room: number }>(`
      const content = document.querySelector('[data-testid=board] > div');
      const panel = document.querySelector('[data-testid=board]');
      const k = content.getBoundingClientRect().width / content.offsetWidth;
      const name = document.querySelector('.card-name');
      return { letters: parseFloat(getComputedStyle(name).fontSize) * k, wide: content.getBoundingClientRect().width, room: panel.clientWidth };`);
    const least = 9;
    expect(found.letters).toBeGreaterThanOrEqual(least);
    const smallest = least / found.letters;
    expect(found.wide * Math.max(smallest, 0.7)).toBeLessThanOrEqual(2 * found.room);
  });

  test('the wheel pans, with Ctrl it zooms about the cursor, a drag of the ground pans', async () => {
    const at = () =>
      run<string>(`return document.querySelector('[data-testid=board] > div').style.transform`);
    const turn = (more: object) =>
      run(
        `const panel = document.querySelector('[data-testid=board]');
         const r = panel.getBoundingClientRect();
         panel.dispatchEvent(new WheelEvent('wheel', { deltaY: 60, clientX: r.left + 200, clientY: r.top + 200, bubbles: true, cancelable: true, ...arguments[0] }));`,
        more,
      );
    await (await find('[data-testid=board-scale]')).click();
    await press('z');
    await until('larger', async () => {
      await chord(Key.ARROW_UP, Key.SHIFT);
      return (await scale()) > 90;
    });
    // From its end upwards, wherever it was.
    await turn({ deltaY: 4000 });
    const first = await at();
    await turn({ deltaY: -100 });
    await until('panned', async () => (await at()) !== first);
    const before = await scale();
    await turn({ ctrlKey: true, deltaY: 6 });
    await until('smaller', async () => (await scale()) < before);
    const second = await at();
    // A place of the ground.
    const [x, y] = await run<number[]>(`
      const panel = document.querySelector('[data-testid=board]');
      const r = panel.getBoundingClientRect();
      for (let y = r.top + 60; y < r.bottom - 60; y += 13)
        for (let x = r.left + 60; x < r.right - 60; x += 13) {
          const under = document.elementFromPoint(x, y);
          if (panel.contains(under) && !under.closest('button, select, input, [data-own-drag]')) return [Math.round(x), Math.round(y)];
        }`);
    await browser.driver
      .actions({ async: true })
      .move({ x, y, origin: Origin.VIEWPORT })
      .press()
      .move({ x: x + 30, y: y + 30, origin: Origin.VIEWPORT, duration: 80 })
      .move({ x: x - 40, y: y - 40, origin: Origin.VIEWPORT, duration: 80 })
      .release()
      .perform();
    await until('dragged', async () => (await at()) !== second);
  });

  test('a step is found by its name', async () => {
    await press('/');
    const field = await waitFor('input[aria-label="Search the board"]');
    await field.sendKeys('feath', Key.ENTER);
    await until('the first one', async () => /^soft-/.test((await selected()) ?? ''));
    const first = await selected();
    await field.sendKeys(Key.ENTER);
    await until('the next one', async () => (await selected()) !== first);
    expect(await text('search [role=status]')).toBe('2 of 12');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'nothing like it');
    await until('none', async () => (await text('search [role=status]')) === 'No match.');
    await field.sendKeys(Key.ESCAPE);
    expect(await browser.driver.findElements(By.css('search'))).toHaveLength(0);
  });

  test('one jumps along a link and back', async () => {
    await run(`document.querySelector('[data-step=blur]')?.click()`);
    await press('/');
    await (await waitFor('input[aria-label="Search the board"]')).sendKeys('Blur', Key.ENTER, Key.ESCAPE);
    await until('blur', async () => (await selected()) === 'blur');
    await press('l');
    await until('its mask', async () => /^soft-/.test((await selected()) ?? ''));
    await chord('l', Key.SHIFT);
    await until('back', async () => (await selected()) === 'blur');
  });

  test('only what feeds a step is shown, the rest is faded', async () => {
    const faded = (id: string) =>
      run<boolean>(
        `return document.querySelector(arguments[0]).className.includes('opacity-25')`,
        `[data-step=${id}]`,
      );
    await press('z');
    await press('v');
    await until('faded', async () => faded('grain'));
    expect(await faded('bloom')).toBe(false);
    expect(await faded('blur')).toBe(false);
    expect(await faded('gain')).toBe(true);
    await press('v');
    await until('as before', async () => !(await faded('grain')));
  });

  test('a strand folds to a line by its key, and unfolds again', async () => {
    await press('/');
    await (await waitFor('input[aria-label="Search the board"]')).sendKeys('Key 3', Key.ENTER, Key.ESCAPE);
    await press('u');
    await until('folded', async () => (await document()).strands.some((s) => s.name === 'Key 3' && s.folded));
    const line = await find('[aria-label="Strand Key 3"]');
    expect((await line.getRect()).width).toBeLessThan(40);
    expect(await browser.driver.findElements(By.css('[data-step=key-3]'))).toHaveLength(0);
    await press('u');
    await until('unfolded', async () => !(await document()).strands.some((s) => s.folded));
  });

  test('steps are selected by keyboard alone, and Enter leads to their values', async () => {
    await press('z');
    await run(`document.querySelector('[data-step=bloom]').focus()`);
    await browser.driver.actions().sendKeys(Key.ENTER).perform();
    await until('a value', () =>
      run<boolean>(`return document.activeElement?.dataset.value === 'threshold'`),
    );
    await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
    await press(Key.ARROW_DOWN);
    await until('the next', async () => (await selected()) === 'blur');
    // From area to area.
    await press('j');
    const area = () =>
      run<string>(
        `return ['board', 'viewer', 'sheet', 'ribbon'].find((id) => document.getElementById(id).contains(document.activeElement)) ?? ''`,
      );
    const seen: string[] = [];
    for (let i = 0; i < 4; i++) {
      seen.push(await area());
      await browser.driver.actions().sendKeys('j').perform();
    }
    expect(new Set(seen)).toEqual(new Set(['board', 'viewer', 'sheet', 'ribbon']));
    await press('g');
  });
});

describe('several steps, and their sheets', () => {
  const amounts = async () =>
    (await document()).strands[0].steps
      .filter((s) => 'amount' in s.values)
      .map((s) => [s.id, s.values.amount]);
  const type = async (field: WebElement, words: string) => {
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
  };
  const select = async (id: string) => {
    await press('/');
    await (await waitFor('input[aria-label="Search the board"]')).sendKeys(id, Key.ENTER, Key.ESCAPE);
    await until(id, async () => (await selected()) === id.toLowerCase());
  };

  test('values that several steps share change together, as one edit', async () => {
    await select('Vignette');
    await chord(Key.ARROW_DOWN, Key.ALT, Key.SHIFT);
    await until('two', async () => (await text('[data-testid=together]')).startsWith('2 steps'));
    const before = await amounts();
    await type(await find('[data-value=amount]'), '0.3');
    await until('both', async () => {
      const now = Object.fromEntries(await amounts());
      return now.vignette === 0.3 && now.grain === 0.3;
    });
    await undo();
    await until('neither', async () => JSON.stringify(await amounts()) === JSON.stringify(before));
    await press('y');
    await until(
      'both bypassed',
      async () =>
        (await document()).strands[0].steps
          .filter((s) => s.bypass)
          .map((s) => s.id)
          .join() === 'vignette,grain',
    );
    await undo();
  });

  test('a value that is not as it begins has a mark, and one click brings it back', async () => {
    await select('Bloom');
    await type(await find('[data-value=amount]'), '0.77');
    const mark = await waitFor('[data-changed=amount]');
    await mark.click();
    await until('reset', async () => (await document()).strands[0].steps[0].values.amount !== 0.77);
    expect(await browser.driver.findElements(By.css('[data-changed=amount]'))).toHaveLength(0);
  });

  test('rare values wait until one asks for more; a section folds; both stay so', async () => {
    expect(await browser.driver.findElements(By.css('[data-value=boostInMist]'))).toHaveLength(0);
    await (await button('More values')).click();
    await waitFor('[data-value=boostInMist]');
    await (await find('section[aria-label=spread] h3 button')).click();
    expect(await browser.driver.findElements(By.css('[data-value=radius]'))).toHaveLength(0);
    await browser.driver.navigate().refresh();
    await settled();
    await select('Bloom');
    await waitFor('[data-value=boostInMist]');
    expect(await browser.driver.findElements(By.css('[data-value=radius]'))).toHaveLength(0);
    // What is searched is shown wherever it is.
    await (await find('[aria-label="Search values"]')).sendKeys('radius of the halo');
    await waitFor('[data-value=radius]');
    expect(await browser.driver.findElements(By.css('[data-value=amount]'))).toHaveLength(0);
    await (await find('[aria-label="Search values"]')).sendKeys(Key.ESCAPE);
    await (await find('section[aria-label=spread] h3 button')).click();
    await waitFor('[data-value=radius]');
    await (await button('Fewer values')).click();
  });

  test('a preset keeps the values of a step under a name, for any step of its kind', async () => {
    await type(await find('[data-value=radius]'), '33');
    await (await find('summary[aria-label=Presets]')).click();
    await (await waitFor('[aria-label="Name for these values"]')).sendKeys('Small and soft', Key.ENTER);
    await until('kept', async () => (await text('[data-sonner-toaster]')).includes('Small and soft is kept'));
    await (await find('summary[aria-label=Presets]')).click();
    await type(await find('[data-value=radius]'), '200');
    await until('another', async () => (await document()).strands[0].steps[0].values.radius === 200);
    await (await find('summary[aria-label=Presets]')).click();
    await (await button('Small and soft')).click();
    await until('taken', async () => (await document()).strands[0].steps[0].values.radius === 33);
    // It stands in the library too.
    await browser.driver.get(`${zaf.address}/recipes`);
    await until('listed', async () =>
      (await text('[aria-label="Presets of steps"]')).includes('Small and soft of Bloom'),
    );
    await open();
  });

  test('a new matte for a slot leaves the step in sight, and is one jump away', async () => {
    await select('Blur');
    const value = await run<string>(
      `return [...document.querySelector('[data-slot=mask]').options].find((o) => o.textContent.startsWith('Shapes')).value`,
    );
    await page.choose('[data-slot=mask]', 'Shapes');
    expect(value).toMatch(/^new:/);
    await until('linked', async () => {
      const { strands } = await document();
      return (
        strands.at(-1)!.name === 'Shapes' && strands[0].steps[1].slots.mask?.strand === strands.at(-1)!.id
      );
    });
    expect(await selected()).toBe('blur');
    await (await find('[aria-label="Go to the source of Mask"]')).click();
    await until(
      'there',
      async () => (await attribute('[data-card][data-selected=true]', 'aria-label')) === 'Strand Shapes',
    );
    await chord('l', Key.SHIFT);
    await until('back', async () => (await selected()) === 'blur');
  });
});

describe('palettes', () => {
  test('each step has its picture on this frame, what fits comes first with its reason, and what was used last is on top', async () => {
    await press('a');
    await waitFor('[aria-label="Search steps"]');
    await until('pictures', async () =>
      run<boolean>(
        `return [...document.querySelectorAll('[aria-label=Steps] canvas')].slice(0, 6).every((c) => c.width > 40)`,
      ),
    );
    expect(await text('[aria-label=Steps]')).toContain('fits here: ');
    await browser.driver.actions().sendKeys('sharpen', Key.ENTER).perform();
    await until('added', async () => (await document()).strands[0].steps.some((s) => s.type === 'sharpen'));
    await press('a');
    await until('of late', async () =>
      (await text('[aria-label=Steps] li:first-child')).startsWith('Used of late'),
    );
    expect(await text('[aria-label=Steps] li:nth-child(2)')).toContain('Sharpen');
    await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
    await chord('a', Key.SHIFT);
    await waitFor('[aria-label="Search heads"]');
    expect(await text('[aria-label=Heads]')).toContain('Mattes');
    await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
    await undo();
  });
});

describe('keys', () => {
  test('they are looked up, searched, changed, and refused where they are taken', async () => {
    await press('?');
    await waitFor('dialog[aria-label=Keys][open]');
    // The caret is in the search: what is typed looks for a key.
    await browser.driver.actions().sendKeys('middle').perform();
    await until(
      'one',
      async () => (await browser.driver.findElements(By.css('[data-command]'))).length === 1,
    );
    await (await find('[data-command=arrangement]')).click();
    await browser.driver.actions().sendKeys('y').perform();
    await until('taken', async () =>
      (await text('dialog[aria-label=Keys]')).includes('is “Bypass the step”'),
    );
    await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('w').keyUp(Key.CONTROL).perform();
    await until('of the browser', async () =>
      (await text('dialog[aria-label=Keys]')).includes('belongs to the browser'),
    );
    await browser.driver.actions().sendKeys('k').perform();
    await until('changed', async () => (await text('[data-command=arrangement]')) === 'K');
    await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
    await browser.driver.navigate().refresh();
    await settled();
    const before = await widthOf('board');
    await press('g');
    await press('k');
    await until('by its new key', async () => (await widthOf('board')) > before + 100);
    await press('k');
    // The button leads there too; all come back.
    await (await find('button[aria-label=Keys]')).click();
    await (await button('Reset all')).click();
    await until('reset', async () => (await text('[data-command=arrangement]')) === 'G');
    await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
  });
});

describe('references', () => {
  const references = () => json<Reference[]>(`${zaf.address}/api/shots/${shot}/references`);

  test('a still that is dropped stands beside the picture, gives its colours, and is there again', async () => {
    // A plain orange, drawn by the browser itself.
    await run(`
      const canvas = document.createElement('canvas');
      canvas.width = 64; canvas.height = 36;
      const g = canvas.getContext('2d');
      g.fillStyle = 'rgb(230, 120, 40)'; g.fillRect(0, 0, 64, 36);
      canvas.toBlob((blob) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([blob], 'sunset.png', { type: 'image/png' }));
        for (const type of ['dragover', 'drop'])
          document.querySelector('#viewer').dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));
      });`);
    const picture = await waitFor('[data-reference] img');
    expect((await references()).map((r) => [r.name, r.width, r.height])).toEqual([['sunset.png', 64, 36]]);
    await until('loaded', () =>
      run<boolean>(`return document.querySelector('[data-reference] img').naturalWidth === 64`),
    );
    // Its scopes stand beside those of the result.
    await press('s');
    await (await find('[data-reference] button')).click();
    await waitFor('[data-scope-of-reference] canvas');
    await (await find('[data-reference] button')).click();
    await press('s');
    // A colour of it goes into the step.
    await press('/');
    await (await waitFor('input[aria-label="Search the board"]')).sendKeys('Bloom', Key.ENTER, Key.ESCAPE);
    await (await waitFor('[aria-label="Pick Tint on the picture"]')).click();
    await picture.click();
    await until('the colour', async () => {
      const tint = (await document()).strands[0].steps[0].values.tint as readonly number[];
      // sRGB 230, 120, 40 in linear light (IEC 61966-2-1), within what WebP keeps.
      return [0.791, 0.188, 0.0212].every((v, i) => Math.abs(tint[i] - v) < 0.03);
    });
    await undo();
    await browser.driver.navigate().refresh();
    await settled();
    await press('q');
    await waitFor('[data-reference] img');
    await (await find('[aria-label="Remove sunset.png"]')).click();
    await until('gone', async () => (await references()).length === 0);
    await press('q');
  });
});

describe('the viewer in a window of its own', () => {
  test('it shows what the page shows, follows its frame, and sends keys back', async () => {
    const [first] = await browser.driver.getAllWindowHandles();
    await browser.driver.executeScript(
      `window.open(location.pathname + '/viewer?finish=' + arguments[0], '_blank', 'width=700,height=500')`,
      Number(address.split('/').at(-1)),
    );
    await until('a window', async () => (await browser.driver.getAllWindowHandles()).length === 2);
    const second = (await browser.driver.getAllWindowHandles()).find((h) => h !== first)!;
    await browser.driver.switchTo().window(second);
    await until(
      'the picture',
      async () => (await attribute('[data-testid=viewer-window]', 'data-frame')) === '1',
    );
    const bright = () =>
      run<number>(`const c = document.querySelector('[data-testid=viewer-window]');
        const { data } = c.getContext('2d').getImageData(0, 0, c.width, c.height);
        let sum = 0; for (const v of data) sum += v; return sum / data.length;`);
    expect(await bright()).toBeGreaterThan(5);
    // A key that is pressed here is the page's.
    await browser.driver.actions().sendKeys(Key.ARROW_RIGHT).perform();
    await until(
      'the next frame',
      async () => (await attribute('[data-testid=viewer-window]', 'data-frame')) === '2',
    );
    await browser.driver.navigate().refresh();
    await until('again', async () => (await attribute('[data-testid=viewer-window]', 'data-frame')) === '2');
    await browser.driver.switchTo().window(first);
    expect(await text('[data-testid=frame]')).toBe('0002');
    await browser.driver.get(`${zaf.address}/`);
    await browser.driver.switchTo().window(second);
    await until('left', async () => (await text('[role=status]')).startsWith('The shot was left'));
    await browser.driver.close();
    await browser.driver.switchTo().window(first);
    await open();
  });
});

describe('handles', () => {
  test('a handle on the picture is moved by arrows, and the change is said', async () => {
    let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
    doc = addStep('main', 0, 'light-rays', 'rays').apply(doc);
    await giveFinish(zaf.address, shot, doc);
    await open();
    const handle = await waitFor('[data-grip][tabindex="0"]');
    await run(`arguments[0].focus()`, handle);
    const centre = async () => (await document()).strands[0].steps[0].values.centreX as number;
    const before = await centre();
    await browser.driver.actions().sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT).perform();
    await until('two pixels', async () => Math.abs((await centre()) - before - 2) < 0.01);
    // The frame is not changed by it.
    expect(await text('[data-testid=frame]')).toBe('0001');
    expect(await text('[data-testid=announced]')).toContain('Centre');
  });
});
