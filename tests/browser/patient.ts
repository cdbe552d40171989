import { error, type WebDriver, WebElement } from 'selenium-webdriver';
import { Command, Name } from 'selenium-webdriver/lib/command.js';

/** How an element was found: what finds it again when React has put another in its place. */
type Finding = { using: string; value: string; index: number; parent?: string };

type FindParameters = { using: string; value: string; id?: unknown };

const finds = new Set<string>([
  Name.FIND_ELEMENT,
  Name.FIND_ELEMENTS,
  Name.FIND_CHILD_ELEMENT,
  Name.FIND_CHILD_ELEMENTS,
]);

/**
 * Makes a driver as patient as a person. Somebody who reaches for a button presses the one that stands there, even if React has replaced it since they saw
 * it, and waits for a moment where something moves over it. Without this, tests fail on loaded machines alone, with the page as it should be.
 */
export function makePatient(driver: WebDriver, seconds = 5): void {
  const findings = new Map<string, Finding>();
  const execute = driver.execute.bind(driver) as unknown as (command: Command) => Promise<unknown>;
  const idOf = (parameter: unknown) =>
    WebElement.isId(parameter as never) ? WebElement.extractId(parameter as never) : undefined;

  /** The id of the element that stands where this one stood, or nothing. */
  async function findAgain(id: string): Promise<string | undefined> {
    const finding = findings.get(id);
    if (!finding) return undefined;
    const { using, value, index, parent } = finding;
    const place = parent === undefined ? undefined : await findAgain(parent);
    if (parent !== undefined && place === undefined) return undefined;
    const command = new Command(place === undefined ? Name.FIND_ELEMENTS : Name.FIND_CHILD_ELEMENTS);
    command.setParameters({ using, value, ...(place !== undefined && { id: WebElement.buildId(place) }) });
    const found = (await execute(command).catch(() => [])) as WebElement[];
    return found[index]?.getId();
  }

  /** The same parameters with each element that was found by a selector found again. */
  async function renew(parameter: unknown): Promise<unknown> {
    const id = idOf(parameter);
    if (id !== undefined) return WebElement.buildId((await findAgain(id)) ?? id);
    if (Array.isArray(parameter)) return Promise.all(parameter.map(renew));
    if (parameter === null || typeof parameter !== 'object') return parameter;
    const entries = Object.entries(parameter).map(async ([key, part]) => [key, await renew(part)] as const);
    return Object.fromEntries(await Promise.all(entries));
  }

  async function remember({ using, value, id }: FindParameters, found: unknown): Promise<void> {
    const parent = idOf(id);
    for (const [index, element] of [found].flat().entries()) {
      if (element instanceof WebElement) findings.set(await element.getId(), { using, value, index, parent });
    }
  }
  const isPassing = (failure: unknown) =>
    failure instanceof error.StaleElementReferenceError ||
    failure instanceof error.ElementClickInterceptedError ||
    failure instanceof error.ElementNotInteractableError;

  const carryOut = async (name: string, parameters: object) => {
    const command = new Command(name);
    command.setParameters({ ...parameters });
    const found = await execute(command);
    if (finds.has(name)) await remember(parameters as FindParameters, found);
    return found;
  };

  driver.execute = async <T>(command: Command): Promise<T> => {
    let parameters = (await toPlain(command.getParameters())) as object;
    const end = performance.now() + seconds * 1000;
    for (;;) {
      try {
        return (await carryOut(command.getName(), parameters)) as T;
      } catch (failure) {
        if (!isPassing(failure) || performance.now() > end) throw failure;
        // What was pressed before the failure is let go.
        if (command.getName() === Name.ACTIONS) await execute(new Command(Name.CLEAR_ACTIONS));
        await new Promise((wake) => setTimeout(wake, 50));
        parameters = (await renew(parameters)) as object;
      }
    }
  };
}

/** Parameters as they are sent, with elements as their ids, so that a command can be sent twice. */
async function toPlain(parameter: unknown): Promise<unknown> {
  const value = await parameter;
  if (value instanceof WebElement) return WebElement.buildId(await value.getId());
  if (typeof value === 'function') return String(value);
  if (value === null || typeof value !== 'object') return value;
  if (Array.isArray(value)) return Promise.all(value.map(toPlain));
  if ('toJSON' in value && typeof value.toJSON === 'function') return toPlain(value.toJSON());
  const entries = Object.entries(value).map(async ([key, part]) => [key, await toPlain(part)] as const);
  return Object.fromEntries(await Promise.all(entries));
}
