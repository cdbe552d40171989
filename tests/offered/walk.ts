import { Key } from 'selenium-webdriver';
import { expect } from 'vitest';
import type { ShotDetail } from '../../api/shots';
import type { Finish } from '../../core/finish/finish';
import { kindsOf, type StepSpec } from '../../core/steps/shared/define';
import { type Browser, openBrowser } from '../browser/chromium';
import { onPage } from '../browser/page';
import { startDemo } from '../server/demo';
import { json, remove, temporaryFolder, until } from '../server/instance';

/**
 * A walk through everything that the screen offers on a demo shot: each entry is chosen as a hand would, the document must change as its words say or a
 * reason must be shown, and undo must lead back to the same document. Made from the declarations, so that what is new is walked too.
 */

/** Chosen in the page: what happened to it, in words, or nothing where all was well. */
type Trouble = string;

export async function openWalk(shot: 'Orrery Hall' | 'Moth and Comet') {
  const data = temporaryFolder();
  // Some layers of the drawings begin on the fifth frame.
  const zaf = await startDemo(shot === 'Orrery Hall' ? 1 : 6, data);
  const id = shot === 'Orrery Hall' ? 1 : 2;
  const detail = await until(
    'the demo frames',
    async () => {
      const found = await json<ShotDetail>(`${zaf.address}/api/shots/${id}`);
      return found.media.every((m) => m.frames.every((f) => f.state === 'ready')) && found;
    },
    240,
  );
  const browser: Browser = await openBrowser();
  await browser.driver.manage().setTimeouts({ script: 240_000 });
  const page = onPage(() => browser);
  await browser.driver.get(`${zaf.address}/shots/${id}`);
  // The frames of the demo are still being made: the first picture waits for its turn.
  await until('the screen', () =>
    page.settled().then(
      () => true,
      () => false,
    ),
  );
  await browser.driver.executeScript(inPage);
  const asked = (what: 'sheet' | 'actions' | 'menus', turn = 0) =>
    browser.driver.executeAsyncScript<Trouble[]>(
      `const done = arguments[arguments.length - 1]; walk[arguments[0]](arguments[1]).then(done, (e) => done(['The walk failed: ' + (e.stack || e)]))`,
      what,
      turn,
    );
  const walk = {
    zaf,
    browser,
    page,
    detail,
    finish: async (): Promise<Finish> =>
      JSON.parse(await page.run<string>('return JSON.stringify(zafiroSession.store.getState().finish)')),
    /** The document with its keys in order: what undo must lead back to. */
    same: () => page.run<string>('return walk.now()'),
    /** Undoes until the document is that one again. */
    async back(to: string) {
      await until('the document as it was', async () => {
        if ((await walk.same()) === to) return true;
        await page.undo();
        return (await walk.same()) === to;
      });
      await page.run('zafiroSession.store.getState().change({ tool: undefined })');
    },
    /**
     * The picture as it came in, so that what is chosen is computed soon, and strands for steps that work on mattes and on data. Gives what undo leads back to.
     */
    async makePlain(): Promise<string> {
      await page.run(
        `const { store } = zafiroSession;
         const media = arguments[0];
         const { finish } = store.getState();
         const main = finish.strands.find((s) => s.id === finish.main);
         const head = main.head.type === 'stack' ? { ...main.head, layers: main.head.layers.map(({ from, ...layer }) => layer) } : main.head;
         const { guides, ...plain } = finish;
         store.getState().replace({
           ...plain,
           strands: [
             { ...main, head, steps: [] },
             ...finish.strands.filter((s) => s.head.type === 'pass' && s.id !== finish.main).slice(0, 1).map((s) => ({ ...s, steps: [] })),
             { id: 'walk-matte', name: 'Walk matte', kind: 'matte', head: { type: 'shapes', shapes: [] }, steps: [] },
             ...(media ? [{ id: 'walk-data', name: 'Walk data', kind: 'data', head: { type: 'pass', media, pass: 'depth' }, steps: [] }] : []),
           ],
         }, 'prepare the walk')`,
        detail.media.find((m) => m.passes.some((p) => p.kind === 'depth'))?.name ?? null,
      );
      return walk.same();
    },
    /** Does something and waits until the document has changed. */
    async changes(act: () => Promise<unknown>): Promise<void> {
      const before = await walk.same();
      await act();
      await until('a change', async () => (await walk.same()) !== before, 20);
    },
    /** Does something and waits until the document has changed, or what is selected. */
    async changesOrSelects(act: () => Promise<unknown>): Promise<void> {
      const now = () => page.run<string>('return walk.now() + zafiroSession.store.getState().selected');
      const before = await now();
      await act();
      await until('a change', async () => (await now()) !== before, 20);
    },
    select: (target: string) =>
      page.run('zafiroSession.store.getState().change({ selected: arguments[0] })', target),
    /** Adds a step by the palette, typed by its name. Gives its id. */
    async addStep(spec: StepSpec, strand: string): Promise<string> {
      const before = new Set((await walk.finish()).strands.flatMap((s) => s.steps.map((t) => t.id)));
      await walk.select(strand);
      await walk.changes(async () => {
        await page.press('a');
        const field = await page.waitFor('[aria-label="Search steps"]');
        await field.sendKeys(spec.name, Key.ENTER);
      });
      const added = (await walk.finish()).strands.flatMap((s) => s.steps).filter((t) => !before.has(t.id));
      const made = added.find((t) => t.type === spec.id);
      expect(made, `${spec.name} was added`).toBeDefined();
      await until('its sheet', () =>
        page.run<boolean>(
          `return zafiroSession.store.getState().selected === arguments[0] && document.querySelector('[aria-label="Step sheet"]') !== null`,
          made!.id,
        ),
      );
      return made!.id;
    },
    /** A strand that carries one of the kinds that a step accepts. */
    async strandFor(spec: StepSpec): Promise<string> {
      const kinds = kindsOf(spec);
      const doc = await walk.finish();
      if (kinds.includes('picture')) return doc.main;
      return doc.strands.find((s) => s.id === `walk-${kinds.includes('matte') ? 'matte' : 'data'}`)!.id;
    },
    /** Chooses entries of every list of the sheet, and types and switches its values; gives what went wrong. `turn` picks which mattes, passes and strands. */
    sheet: (turn: number) => asked('sheet', turn),
    /** New mattes and passes that slots offered and nobody chose. */
    left: () => page.run<string[]>('return walk.left()'),
    /** Presses every button of the sheet's head and of its menu. */
    actions: () => asked('actions'),
    /** Opens every menu of the screen and presses what is in it. */
    menus: () => asked('menus'),
    async end() {
      await browser.end();
      await zaf.stop();
      remove(data);
    },
  };
  return walk;
}

export type Walk = Awaited<ReturnType<typeof openWalk>>;

/** What the page does by itself, so that thousands of choices take minutes: with the events that a browser sends for a choice in a native list. */
const inPage = `
window.walk = (() => {
  const store = () => zafiroSession.store;
  const sorted = (v) => Array.isArray(v) ? v.map(sorted) : v && typeof v === 'object'
    ? Object.fromEntries(Object.entries(v).filter(([, x]) => x !== undefined).sort(([a], [b]) => a < b ? -1 : 1).map(([k, x]) => [k, sorted(x)])) : v;
  const now = () => JSON.stringify(sorted(store().getState().finish));
  const rest = (ms) => new Promise((d) => setTimeout(d, ms));
  const frame = () => new Promise((d) => requestAnimationFrame(() => requestAnimationFrame(d)));
  const reasons = () => [...document.querySelectorAll('[data-refused], [data-sonner-toast], [data-testid=failure]')].map((n) => n.textContent).join(' ');
  let files = 0;
  const made = URL.createObjectURL.bind(URL);
  URL.createObjectURL = (what) => { files++; return made(what); };
  /** Something is said that was not said before. */
  const isSaid = (before) => { const after = reasons(); return after !== '' && after !== before && !before.includes(after); };
  const until = async (ask, ms = 8000) => {
    const end = performance.now() + ms;
    while (performance.now() < end) { const found = ask(); if (found) return found; await rest(8); }
    return undefined;
  };
  const nameOf = (node) => node.getAttribute('aria-label') || node.closest('label')?.textContent.slice(0, 40) || node.labels?.[0]?.textContent || node.dataset.slot || 'list';
  const put = (node, value) => {
    const type = node instanceof HTMLSelectElement ? HTMLSelectElement : HTMLInputElement;
    Object.getOwnPropertyDescriptor(type.prototype, 'value').set.call(node, value);
  };
  const choose = (list, value) => {
    put(list, value);
    list.dispatchEvent(new Event('input', { bubbles: true }));
    list.dispatchEvent(new Event('change', { bubbles: true }));
  };
  const undo = async (to) => {
    store().getState().change({ tool: undefined });
    for (let i = 0; i < 4 && now() !== to; i++) store().getState().undo();
    await frame();
    return now() === to;
  };
  /** The nth list, switch or field of the sheet as it is drawn now. */
  const sheet = () => document.querySelector('[aria-label="Step sheet"]');
  const all = (css) => [...(sheet()?.querySelectorAll(css) ?? [])].filter((n) => !n.disabled && !n.closest('fieldset[disabled]') && n.checkVisibility());
  const stepNow = () => {
    const { finish, selected } = store().getState();
    return finish.strands.flatMap((s) => s.steps).find((t) => t.id === selected);
  };

  /** How files are read belongs to the media, not to the finish: what is chosen stands there once the server has it. */
  async function mediaList(n, name, trouble) {
    const at = () => all('select')[n];
    const start = at().value;
    for (const value of [...[...at().options].map((o) => o.value).filter((v) => v !== start).slice(0, 3), start]) {
      choose(at(), value);
      if (!(await until(() => at()?.value === value && !at().disabled, 8000))) trouble.push(name + ', ' + value + ': the server did not take it');
      await rest(60);
    }
  }
  /** Entries that slots have offered, and those that were chosen: in the end they are the same. */
  const offered = new Set();
  const chosen = new Set();
  const known = new Set();
  /**
   * What need not be chosen here, since it was or will be elsewhere. A slot offers the same new mattes, passes and strands in every step: two of each sort
   * that nobody has chosen yet, or one that somebody has. The same list again in another step: one entry of it.
   */
  function passOver(list, entries, turn) {
    const oneOf = (some) => some.filter((_, i) => i !== turn % some.length);
    if (list !== undefined) {
      const id = list + ': ' + entries.map((e) => e.value + ' ' + e.words).join(', ');
      const again = known.has(id);
      known.add(id);
      return new Set(again ? oneOf(entries).map((e) => e.value) : []);
    }
    return new Set(['new:', 'pass:', 'point:', 'strand:'].flatMap((sort) => {
      const some = entries.filter((e) => e.value.startsWith(sort)).map((e) => e.value);
      if (sort === 'new:' || sort === 'pass:') for (const value of some) offered.add(value);
      const fresh = some.filter((value) => !chosen.has(value)).slice(0, 2);
      return fresh.length > 0 ? some.filter((value) => !fresh.includes(value)) : oneOf(some);
    }));
  }
  async function lists(turn, trouble) {
    const count = all('select').length;
    for (let n = 0; n < count; n++) {
      const list = all('select')[n];
      if (!list) continue;
      const name = nameOf(list);
      const slot = list.dataset.slot;
      const media = list.closest('[data-media]')?.dataset.media;
      if (media !== undefined) {
        if (!known.has(media + ' ' + name)) await mediaList(n, name, trouble);
        known.add(media + ' ' + name);
        continue;
      }
      const entries = [...list.options].map((o) => ({ value: o.value, words: o.textContent, disabled: o.disabled }));
      const passedOver = passOver(slot ? undefined : name, entries.filter((e) => !e.disabled), turn);
      const effects = [];
      for (const { value, words, disabled } of entries) {
        const at = all('select')[n];
        if (!at) { trouble.push(name + ': the list went away'); break; }
        // What stands in a list whose entries do something, and is none of them.
        const isAction = entries[0].value === '' && at.value === '' && !slot;
        if (value === '' && isAction) continue;
        if (disabled) {
          if (!/circle|no light/.test(words + (at.querySelector('option[value="' + CSS.escape(value) + '"]')?.title ?? ''))) trouble.push(name + ', ' + words + ': disabled without a reason');
          continue;
        }
        if (value === at.value || passedOver.has(value)) continue;
        if (slot) chosen.add(value);
        const before = now();
        const said = reasons();
        const saved = files;
        // The pass that the slot takes already, by way of another strand.
        const taken = slot && store().getState().finish.strands.find((s) => s.id === stepNow()?.slots[slot]?.strand);
        const isTaken = taken?.head.type === 'pass' && taken.steps.length === 0 && value === 'pass:' + taken.head.media + '/' + taken.head.pass;
        choose(at, value);
        const effect = await until(() => (now() !== before ? 'changed' : isSaid(said) ? 'said' : files > saved ? 'saved' : undefined), isTaken || isAction ? 1500 : 8000);
        if (isAction) { effects.push(effect); if (!effect) continue; }
        if (!effect) { if (!isTaken) trouble.push(name + ', ' + words + ': nothing happened'); continue; }
        if (effect === 'changed') {
          await frame();
          const after = all('select')[n];
          const shown = after?.dataset.slot === slot ? after?.value : undefined;
          if (slot && value.startsWith('new:')) {
            const tap = stepNow()?.slots[slot];
            const strand = tap && store().getState().finish.strands.find((s) => s.id === tap.strand);
            if (!strand || !words.trim().startsWith(strand.name.replace(/ \\d+$/, ''))) trouble.push(name + ', ' + words + ': the slot takes ' + (strand?.name ?? 'nothing'));
          } else if (slot && value.startsWith('pass:')) {
            const tap = stepNow()?.slots[slot];
            const head = tap && store().getState().finish.strands.find((s) => s.id === tap.strand)?.head;
            if (head?.type !== 'pass' || value !== 'pass:' + head.media + '/' + head.pass) trouble.push(name + ', ' + words + ': the slot takes another pass');
          } else if (!isAction && shown !== undefined && shown !== value) trouble.push(name + ', ' + words + ': the list shows ' + shown);
        }
        if (!(await undo(before))) { trouble.push(name + ', ' + words + ': undo led to another document'); return; }
      }
      // An entry may be what is there already; all of them are not.
      if (effects.length > 1 && !effects.some(Boolean)) trouble.push(name + ': none of its entries does anything');
    }
  }
  /** Does something to each of these in turn: the document changes or a reason is shown, and undo leads back. */
  async function each(css, trouble, act, isToldIn, nothing) {
    const count = all(css).length;
    for (let n = 0; n < count; n++) {
      const node = all(css)[n];
      if (!node) continue;
      const before = now();
      const said = reasons();
      const name = nameOf(node);
      await act(node);
      const effect = await until(() => now() !== before || isToldIn() || isSaid(said), 3000);
      if (!effect) trouble.push(name + nothing);
      else if (!(await undo(before))) { trouble.push(name + ': undo led to another document'); return; }
    }
  }
  const switches = (trouble) => each('input[type=checkbox]', trouble, (node) => node.click(), () => false, ': the switch did nothing');
  async function numbers(trouble) {
    for (const one of sheet()?.querySelectorAll('details') ?? []) one.open = true;
    await frame();
    const type = async (node) => {
      node.focus();
      put(node, Number(node.value) === 1 ? '0' : '1');
      node.dispatchEvent(new Event('input', { bubbles: true }));
      await frame();
      node.blur();
    };
    // A bound is said beside the number.
    await each('input[data-value]', trouble, type, () => sheet()?.querySelector('[role=status]')?.textContent, ': typing another number did nothing');
  }
  const isOpen = () => document.querySelector('dialog[open], [role=dialog]') !== null;
  const close = async () => {
    for (let i = 0; i < 3 && isOpen(); i++) {
      (document.querySelector('dialog[open], [role=dialog]') ?? document).dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true, cancelable: true }));
      document.querySelector('dialog[open]')?.close?.();
      await frame();
    }
    for (const menu of document.querySelectorAll('details[open]')) if (menu.matches('.dropdown')) menu.open = false;
    await frame();
  };
  async function actions() {
    const trouble = [];
    await frame();
    for (const menu of sheet()?.querySelectorAll('header details') ?? []) menu.open = true;
    const names = [...(sheet()?.querySelectorAll('header button') ?? [])].filter((b) => !b.disabled).map((b) => b.getAttribute('aria-label') || b.textContent);
    const from = store().getState().selected;
    for (const name of names) {
      store().getState().change({ selected: from });
      await frame();
      for (const menu of sheet()?.querySelectorAll('header details') ?? []) menu.open = true;
      const button = [...(sheet()?.querySelectorAll('header button') ?? [])].find((b) => (b.getAttribute('aria-label') || b.textContent) === name);
      if (!button || button.disabled) { trouble.push(name + ': it went away'); continue; }
      const before = now();
      const said = reasons();
      const saved = files;
      const pressed = button.getAttribute('aria-pressed');
      const shown = document.body.innerHTML.length;
      button.click();
      // What was copied shows only in that it can be pasted.
      if (name.startsWith('Copy')) continue;
      const effect = await until(() => now() !== before || isSaid(said) || files > saved || isOpen() || button.getAttribute('aria-pressed') !== pressed || document.body.innerHTML.length !== shown, 8000);
      if (!effect) trouble.push(name + ': nothing happened');
      await close();
      if (!(await undo(before))) { trouble.push(name + ': undo led to another document'); break; }
    }
    store().getState().change({ selected: from });
    await close();
    return trouble;
  }
  /** Those that lead to another page or make another finish. */
  const leaves = /^(Copy this finish|New finish without steps|Delete this finish)/;
  async function menus() {
    const trouble = [];
    const all = () => [...document.querySelectorAll('details.dropdown')].filter((m) => !sheet()?.contains(m));
    const count = all().length;
    if (count === 0) trouble.push('there is no menu');
    for (let n = 0; n < count; n++) {
      const menu = all()[n];
      if (!menu) continue;
      const name = menu.querySelector('summary').getAttribute('aria-label') || menu.querySelector('summary').textContent;
      const buttons = () => [...(all()[n]?.querySelectorAll('button') ?? [])].filter((b) => !b.disabled && !b.getAttribute('aria-current') && !leaves.test(b.textContent));
      menu.open = true;
      await frame();
      const entries = buttons().length;
      for (let i = 0; i < entries; i++) {
        if (all()[n]) all()[n].open = true;
        await frame();
        const button = buttons()[i];
        if (!button) continue;
        const words = button.textContent || button.getAttribute('aria-label');
        const before = now();
        button.click();
        await frame();
        if (document.querySelector('[data-testid=failure]')) trouble.push(name + ', ' + words + ': it failed');
        await close();
        if (!(await undo(before))) trouble.push(name + ', ' + words + ': undo led to another document');
      }
      await close();
    }
    return trouble;
  }
  return {
    now,
    actions,
    menus,
    left: () => [...offered].filter((value) => !chosen.has(value)),
    async sheet(turn) {
      const trouble = [];
      await frame();
      await lists(turn, trouble);
      await switches(trouble);
      await numbers(trouble);
      return trouble;
    },
  };
})();`;
