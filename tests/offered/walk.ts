import { Key } from 'selenium-webdriver';
import { expect } from 'vitest';
import type { ShotDetail } from '../../api/shots';
import type { Finish } from '../../core/finish/finish';
import { kindsOf, type StepSpec } from '../../core/steps/define';
import { type Browser, openBrowser } from '../browser/chromium';
import { onPage } from '../browser/page';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';

/**
 * A walk through everything that the screen offers on a demo shot: each entry is chosen as a hand would, the document must change as its words say or a
 * reason must be shown, and undo must lead back to the same document. Made from the declarations, so that what is new is walked too.
 */

/** Chosen in the page: what happened to it, in words, or nothing where all was well. */
type Trouble = string;

export async function openWalk(shot: 'Orrery Hall' | 'Moth and Comet') {
  const data = temporaryFolder();
  // Some layers of the drawings begin on the fifth frame.
  const frames = shot === 'Orrery Hall' ? '1' : '6';
  const zaf: Instance = await startInstance('demo', data, ['--frames', frames]);
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
  await page.settled();
  await browser.driver.executeScript(inPage);
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
    /** Does something and waits until the document has changed. */
    async changes(act: () => Promise<unknown>): Promise<void> {
      const before = await walk.same();
      await act();
      await until('a change', async () => (await walk.same()) !== before, 20);
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
    async strandFor(spec: StepSpec): Promise<string | undefined> {
      const kinds = kindsOf(spec);
      const doc = await walk.finish();
      if (kinds.includes('picture')) return doc.main;
      const kind = kinds.includes('matte') ? 'matte' : 'data';
      return doc.strands.find((s) => s.id === `walk-${kind}`)?.id;
    },
    /** Chooses entries of every list of the sheet, and types and switches its values; gives what went wrong. `turn` picks which new mattes are made. */
    sheet: (turn: number) =>
      browser.driver.executeAsyncScript<Trouble[]>(
        `const done = arguments[arguments.length - 1]; walk.sheet(arguments[0]).then(done, (e) => done(['The walk failed: ' + (e.stack || e)]))`,
        turn,
      ),
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

  async function lists(turn, trouble) {
    const count = all('select').length;
    for (let n = 0; n < count; n++) {
      const list = all('select')[n];
      if (!list) continue;
      const name = nameOf(list);
      const slot = list.dataset.slot;
      const entries = [...list.options].map((o) => ({ value: o.value, words: o.textContent, disabled: o.disabled }));
      const fresh = entries.filter((e) => e.value.startsWith('new:'));
      const some = new Set(fresh.map((_, i) => fresh[(turn * 3 + i) % fresh.length]).slice(0, 3).map((e) => e.value));
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
        if (value === at.value || (value.startsWith('new:') && !some.has(value))) continue;
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
  async function switches(trouble) {
    const css = 'input[type=checkbox]';
    const count = all(css).length;
    for (let n = 0; n < count; n++) {
      const node = all(css)[n];
      if (!node) continue;
      const before = now();
      const said = reasons();
      const name = nameOf(node);
      node.click();
      const effect = await until(() => (now() !== before ? 'changed' : isSaid(said) ? 'said' : undefined), 3000);
      if (!effect) trouble.push(name + ': the switch did nothing');
      else if (!(await undo(before))) { trouble.push(name + ': undo led to another document'); return; }
    }
  }
  async function numbers(trouble) {
    for (const one of sheet()?.querySelectorAll('details') ?? []) one.open = true;
    await frame();
    const css = 'input[data-value]';
    const count = all(css).length;
    for (let n = 0; n < count; n++) {
      const node = all(css)[n];
      if (!node) continue;
      const before = now();
      const said = reasons();
      const name = nameOf(node);
      node.focus();
      const from = Number(node.value) || 0;
      put(node, String(from === 1 ? 0 : 1));
      node.dispatchEvent(new Event('input', { bubbles: true }));
      await frame();
      node.blur();
      const effect = await until(() => (now() !== before ? 'changed' : sheet()?.querySelector('[role=status]')?.textContent || isSaid(said) ? 'said' : undefined), 3000);
      if (!effect) trouble.push(name + ': typing ' + (from === 1 ? 0 : 1) + ' over ' + from + ' did nothing');
      else if (!(await undo(before))) { trouble.push(name + ': undo led to another document'); return; }
    }
  }
  return {
    now,
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
