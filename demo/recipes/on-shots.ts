import { chooseObjects, newFinish } from '../../core/finish/edits';
import type { Finish, Head, Step } from '../../core/finish/finish';
import { addShapes, newShape } from '../../core/finish/shape-edits';
import { slotsOf } from '../../core/finish/uses';
import { setValues } from '../../core/finish/value-edits';
import { projected, projectionOf } from '../../core/formats/camera';
import { ellipse, rectangle } from '../../core/math/path';
import type { Recipe } from '../../core/recipes/recipe';
import { addRecipe } from '../../core/recipes/use';
import type { Values } from '../../core/steps/shared/define';
import { building } from '../building';
import { size as mothSize } from '../moth-and-comet/paint';
import { cometAtRest } from '../moth-and-comet/pose';
import { size as hallSize } from '../orrery-hall/render';
import { globePlan, sceneAt } from '../orrery-hall/scene';
import { cameraAttributes } from '../orrery-hall/write';

/** The recipes on the two demo shots, as somebody would use them there: for their pictures in the library, and to test them. */

type Build = ReturnType<typeof building>;
type Links = Step['slots'];
type Used = {
  /** Links of the slots, by their names. */
  links?: Record<string, Links[string]>;
  /** The strand and the index of the use; the main strand's end if it is not said. */
  strand?: string;
  values?: Values;
  /** What is done once it is there. */
  after?(): void;
};

const end = (strand: string, as?: 'alpha' | 'luminance') => ({ strand, after: 'end', ...(as ? { as } : {}) });

function used(
  build: Build,
  recipe: Recipe,
  width: number,
  { links = {}, strand = 'main', values = {}, after }: Used,
) {
  const index = build.doc.strands.find((s) => s.id === strand)!.steps.length;
  const added = addRecipe(build.doc, recipe, { strand, index }, { linked: true, width });
  build.edit(() => added.edit);
  for (const { strand: slot } of slotsOf(build.doc, added.id)) {
    const link = links[slot.name];
    if (link) build.link(added.id, slot.id, link.strand, link.after, link.as);
  }
  if (links.mask) build.link(added.id, 'mask', links.mask.strand, links.mask.after, links.mask.as);
  build.edit((d) => setValues(d, added.id, values));
  after?.();
  return { finish: build.doc, use: added.id };
}

const hall = 'orrery_hall';
const hallPass = (name: string): Head & { type: 'pass' } => ({ type: 'pass', media: hall, pass: name });

/** A recipe on a frame of the hall. */
export function onHall(recipe: Recipe, frame = 1): { finish: Finish; use: string } {
  const build = building(newFinish('recipe-in-the-hall', recipe.name, hallPass('')));
  const ids = (name: string, objects: string[]) => {
    const id = build.strand(
      name,
      { type: 'ids', media: hall, pass: 'idobject', idFormat: 'ranked', ranks: 2, objects: [] },
      'matte',
    );
    build.edit((d) => chooseObjects(d, id, objects));
    return id;
  };
  const pass = (name: string, kind: 'picture' | 'data') => end(build.strand(name, hallPass(name), kind));
  const put = (how: Used) => used(build, recipe, hallSize.width, how);
  switch (recipe.id) {
    case 'radiant-object': {
      const { globes, camera } = sceneAt(frame);
      const { x, y, z } = globes[0];
      const place = projected(
        projectionOf(cameraAttributes(camera), hallSize.width / hallSize.height)!,
        [x, y, z],
        hallSize,
      )!;
      return put({
        links: { Object: end(ids('Globe', [globePlan[0].name])) },
        values: { 'centre-x': Math.round(place.x), 'centre-y': Math.round(place.y), strength: 0.4, glow: 9 },
      });
    }
    case 'lamps-in-mist':
      return put({ links: { Depth: pass('depth', 'data'), Lamps: pass('emission', 'picture') } });
    case 'light-through-openings': {
      const dome = build.strand('Dome', { type: 'shapes', shapes: [] }, 'matte');
      build.edit(() =>
        addShapes(dome, [newShape('shape-1', 'Under the dome', rectangle(-20, -20, 980, 96))]),
      );
      const slots = build.strand('Slots', { type: 'tap', strand: 'main', after: 'head' }, 'picture');
      build.step(slots, 'luminance-key', 'bright', { low: 1, lowSoft: 0.3 });
      build.step(slots, 'combine', 'in-the-dome', { mode: 'intersect' });
      build.link('in-the-dome', 'other', dome);
      return put({ links: { Openings: end(slots) } });
    }
    case 'reflections-by-angle':
      return put({
        links: {
          Reflection: pass('reflection', 'picture'),
          Normals: pass('normal', 'data'),
          Positions: pass('position', 'data'),
        },
        values: { strength: 1, 'index-of-refraction': 2.2 },
      });
    case 'flame-from-one-drawing': {
      // A planet of the orrery burns: its matte is the drawing.
      const planet = build.strand('Planet', { type: 'colour', colour: [1, 0.5, 0.2], alpha: 1 }, 'picture');
      build.step(planet, 'opacity', 'nothing', { amount: 0, invert: true });
      build.link('nothing', 'mask', ids('Chalk', ['planet-chalk']));
      return put({
        strand: planet,
        values: { unrest: 14, flames: 26, speed: 7 },
        after() {
          build.step('main', 'join', 'with-flame', { mode: 'over' });
          build.link('with-flame', 'picture', planet);
        },
      });
    }
    case 'golden-edge':
      return put({
        links: { Figure: end(ids('Orrery', ['ring-*', 'meridian', 'heart', 'pedestal', 'planet-*'])) },
        values: { width: 3 },
      });
    case 'soft-night':
      return put({ links: { Lamps: pass('emission', 'picture') } });
    case 'star-glints-on-metal':
      return put({ links: { Metal: end(ids('Brass', ['ring-*', 'meridian', 'heart', 'pedestal'])) } });
    default:
      return put({});
  }
}

const layer = (media: string): Head & { type: 'pass' } => ({ type: 'pass', media, pass: '' });
const stack = (...media: string[]): Head => ({
  type: 'stack',
  layers: media.map((m) => ({ media: m, pass: '', show: true, opacity: 1 })),
});
const moth = ['wing_far', 'body', 'eyes', 'wing_near'] as const;

/** A recipe on the drawings. */
export function onMoth(recipe: Recipe): { finish: Finish; use: string } {
  const whole = stack('sky', 'tail', 'comet', ...moth, 'bell');
  const behind = ['flame-from-one-drawing', 'golden-edge'].includes(recipe.id);
  const build = building(
    newFinish(
      'recipe-on-drawings',
      recipe.name,
      recipe.id === 'golden-edge' ? stack('sky', 'tail', 'comet') : behind ? layer('sky') : whole,
    ),
  );
  const comet = {
    'centre-x': cometAtRest[0] - mothSize.width / 2,
    'centre-y': mothSize.height / 2 - cometAtRest[1],
  };
  const alpha = (name: string, media: string) => end(build.strand(name, layer(media), 'picture'), 'alpha');
  const lights = () => end(build.strand('Comet', stack('tail', 'comet'), 'picture'));
  const put = (how: Used) => used(build, recipe, mothSize.width, how);
  const over =
    (...heads: [string, Head][]) =>
    () => {
      for (const [name, head] of heads) {
        const id = build.strand(name, head, 'picture');
        build.step('main', 'join', `with-${id}`, { mode: 'over' });
        build.link(`with-${id}`, 'picture', id);
      }
    };
  switch (recipe.id) {
    case 'radiant-object':
      return put({ links: { Object: alpha('Comet', 'comet') }, values: comet });
    case 'lamps-in-mist': {
      // Drawings have no depth: the lower, the nearer.
      const depth = build.strand(
        'Depth',
        { type: 'gradient', from: [10, 10, 10], fromAlpha: 1, to: [70, 70, 70], toAlpha: 1, angle: 90 },
        'data',
      );
      return put({ links: { Depth: end(depth), Lamps: lights() }, values: { visibility: 260 } });
    }
    case 'light-through-openings': {
      const moon = build.strand('Opening', { type: 'shapes', shapes: [] }, 'matte');
      build.edit(() =>
        addShapes(moon, [
          {
            ...newShape('shape-1', 'About the comet', ellipse(cometAtRest[0], cometAtRest[1], 120, 100)),
            feather: 20,
          },
        ]),
      );
      return put({
        links: { Openings: end(moon) },
        values: { 'centre-x': comet['centre-x'], 'centre-y': comet['centre-y'], strength: 0.7 },
      });
    }
    case 'reflections-by-angle': {
      // Drawings have no normals: the reflection lies where the bell is drawn.
      const light = build.strand(
        'Light of the sky',
        { type: 'gradient', from: [0, 0, 0], fromAlpha: 1, to: [0.25, 0.4, 0.6], toAlpha: 1, angle: 120 },
        'picture',
      );
      return put({ links: { Reflection: end(light), mask: alpha('Bell', 'bell') } });
    }
    case 'flame-from-one-drawing': {
      const tail = build.strand('Tail', layer('tail'), 'picture');
      return put({
        strand: tail,
        values: { direction: 180 },
        after() {
          build.step('main', 'join', 'with-flame', { mode: 'over' });
          build.link('with-flame', 'picture', tail);
          over(['Comet', layer('comet')], ['Moth', stack(...moth)], ['Bell', layer('bell')])();
        },
      });
    }
    case 'golden-edge': {
      const figure = build.strand('Moth', stack(...moth), 'picture');
      return put({
        strand: figure,
        values: { angle: -38 },
        after() {
          build.step('main', 'join', 'with-moth', { mode: 'over' });
          build.link('with-moth', 'picture', figure);
          over(['Bell', layer('bell')])();
        },
      });
    }
    case 'soft-night':
      return put({ links: { Lamps: lights() } });
    case 'star-glints-on-metal':
      return put({ links: { Metal: alpha('Bell', 'bell') }, values: { threshold: 0.5, strength: 2 } });
    default:
      return put({});
  }
}
