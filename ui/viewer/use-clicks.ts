import { useRef } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useEngine } from '@/browser/engine/use-engine';
import { type ShotState, type Tool, useShotStore } from '@/browser/session/store';
import { chooseObjects } from '@/core/finish/edits';
import { type Finish, headOf, type IdsHead } from '@/core/finish/finish';
import { setValues } from '@/core/finish/value-edits';
import { measureGuide } from '../time/measure-guide';
import { t } from '../words/words';
import type { Pointed } from './PictureCanvas';
import { pickColour } from './pick-colour';
import { objectUnder } from './use-object-under';

/** The strand whose objects a click on the picture chooses: the one that is being chosen for, or the selected one. */
export const strandOfObjects = ({ tool, selected }: Pick<ShotState, 'tool' | 'selected'>) =>
  tool?.type === 'pick-objects' ? tool.strand : selected;

/** What a click on the picture does: it serves the active tool, chooses an object of `ids`, or asks to look at that pixel. */
export function useClicks(shot: ShotDetail, ids: IdsHead | undefined, onLook: (at: Pointed) => void) {
  const store = useShotStore();
  const started = useEngine();
  const clicks = useRef<Promise<unknown>>(undefined);
  /** Adds the object under a click to the chosen matte, or takes it away. */
  const pickObject = async (at: Pointed, shift: boolean) => {
    const { frame, edit } = store.getState();
    const strand = strandOfObjects(store.getState());
    // Asked for at once, taken in the order of the clicks, whichever answer comes first.
    const [asked, former] = [objectUnder(shot, ids, at, frame), clicks.current];
    clicks.current = asked;
    await former;
    const name = await asked;
    if (!name || strand === undefined) return;
    // By then another click may have taken another object.
    edit((finish) => {
      const head = headOf(finish, strand, 'ids');
      const others = (head?.objects ?? []).filter((o) => o !== name);
      return chooseObjects(finish, strand, shift ? others : [...others, name]);
    });
  };
  /** What comes to a step at a pixel; says why where it cannot be had. */
  const pixelUnder = async (finish: Finish, stepId: string, frame: number, { x, y }: Pointed) => {
    try {
      return await started?.engine.pixel(finish, stepId, frame, x, y);
    } catch (error) {
      toast.error((error as Error).message);
      return undefined;
    }
  };
  /** The place in the scene under a click becomes the step's. */
  const pickPosition = async (tool: Extract<Tool, { type: 'pick-position' }>, at: Pointed) => {
    const { finish, frame, edit } = store.getState();
    const found = await pixelUnder(finish, tool.step, frame, at);
    if (!found) return;
    if (!found.slice(0, 3).every(Number.isFinite)) {
      toast.error(t`There is nothing of the scene at this pixel. Click on a surface.`);
      return;
    }
    const values = Object.fromEntries(
      tool.coordinates.map((key, i) => [key, Number(found[i].toPrecision(5))]),
    );
    edit((doc) => setValues(doc, tool.step, values, frame));
  };
  /** A colour that comes to the step becomes its value: the one before the step has changed it. */
  const pickColourAt = async (tool: Extract<Tool, { type: 'pick-colour' }>, at: Pointed) => {
    const { finish, frame, edit } = store.getState();
    const rgba = await pixelUnder(finish, tool.step, frame, at);
    if (rgba) edit((doc) => pickColour(doc, tool, rgba.length === 1 ? [...Array(3).fill(rgba[0]), 1] : rgba));
  };
  return (at: Pointed, shift: boolean) => {
    const { tool, change } = store.getState();
    if (tool?.type === 'pick-guide') {
      change({ tool: undefined });
      if (started)
        measureGuide(started.engine, store, shot, tool.guide, { type: tool.how, at: { x: at.x, y: at.y } });
      return;
    }
    if (tool?.type !== 'pick-position' && tool?.type !== 'pick-colour')
      return ids ? pickObject(at, shift) : onLook(at);
    change({ tool: undefined });
    return tool.type === 'pick-position' ? pickPosition(tool, at) : pickColourAt(tool, at);
  };
}
