import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Columns2, ImagePlus, Maximize2, Minimize2, Trash2 } from 'lucide-react';
import { type MouseEvent, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { deleteReference, listReferences, type Reference } from '@/api/references';
import { request } from '@/api/request';
import { lightOf, measuredReference, referenceAddress, takeReference } from '@/browser/pictures/references';
import { useShot, useShotStore } from '@/browser/session/store';
import { formatLight } from '../parts/format-value';
import { t } from '../words/words';
import { pickColour } from './pick-colour';
import { referenceIn } from './use-reference-image';

export const referencesKey = (shot: number) => ['references', shot];

/** Stills beside the work, kept with the shot: colours are picked from them, and their scopes stand beside those of the result. */
export function References({ shot }: { shot: number }) {
  const client = useQueryClient();
  const store = useShotStore();
  const { data: references = [], error } = useQuery({
    queryKey: referencesKey(shot),
    queryFn: () => request(listReferences, { params: { shot } }),
  });
  const [large, setLarge] = useState<number>();
  const file = useRef<HTMLInputElement>(null);
  const chosen = references.find((r) => r.id === large);
  const refresh = () => client.invalidateQueries({ queryKey: referencesKey(shot) });
  const take = async (files: readonly File[]) => {
    try {
      for (const one of files) {
        const { again, name } = await takeReference(shot, one);
        if (again) toast(t`This picture is there already, as ${name}.`);
      }
    } catch (problem) {
      toast.error((problem as Error).message);
    }
    await refresh();
  };
  const remove = async ({ id }: Reference) => {
    await request(deleteReference, { params: { reference: id } }).catch((e) => toast.error(e.message));
    const { compare, change } = store.getState();
    if (referenceIn(compare.with) === id) change({ compare: { ...compare, with: 'input' } });
    if (id === large) setLarge(undefined);
    await refresh();
  };
  return (
    <aside
      className={`flex min-w-0 shrink-0 flex-col border-l border-line bg-base-100 ${chosen ? 'w-1/2' : 'w-44'}`}
      aria-label={t`Reference pictures`}
      data-testid="references"
    >
      <header className="flex h-7 shrink-0 items-center gap-1 px-2 text-xs">
        <span className="font-semibold">{t`References`}</span>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square ml-auto"
          aria-label={t`Add a reference picture`}
          title={t`Add a reference picture`}
          onClick={() => file.current?.click()}
        >
          <ImagePlus size={13} />
        </button>
        <input
          ref={file}
          type="file"
          accept="image/*"
          multiple
          className="hidden"
          aria-label={t`Reference pictures from files`}
          onChange={(e) => take([...(e.target.files ?? [])])}
        />
      </header>
      <div className="grid min-h-0 flex-1 content-start gap-2 overflow-y-auto p-2">
        {error && (
          <p role="alert" className="text-xs text-error">
            {error.message}
          </p>
        )}
        {references.length === 0 && !error && (
          <p className="text-xs text-quiet">
            {t`Drop stills onto this side of the viewer: photographs, paintings, frames of other shots.`}
          </p>
        )}
        {(chosen ? [chosen] : references).map((reference) => (
          <ReferencePicture
            key={reference.id}
            reference={reference}
            large={reference === chosen}
            onLarge={() => setLarge(reference === chosen ? undefined : reference.id)}
            onRemove={() => remove(reference)}
          />
        ))}
      </div>
    </aside>
  );
}

type PictureProps = { reference: Reference; large: boolean; onLarge(): void; onRemove(): void };

function ReferencePicture({ reference, large, onLarge, onRemove }: PictureProps) {
  const store = useShotStore();
  const picks = useShot((s) => s.tool?.type === 'pick-colour');
  const isCompared = useShot((s) => s.compare.mode !== 'off' && referenceIn(s.compare.with) === reference.id);
  const isMeasured = useShot((s) => s.reference?.id === reference.id);
  const change = useShot((s) => s.change);
  const image = useRef<HTMLImageElement>(null);
  const light = useRef<ReturnType<typeof lightOf>>(undefined);
  const [under, setUnder] = useState<readonly number[]>();
  // What is not there any more is not measured.
  useEffect(
    () => () => {
      const { reference: measured, change } = store.getState();
      if (measured?.id === reference.id) change({ reference: undefined });
    },
    [store, reference.id],
  );
  const at = (e: MouseEvent): number[] | undefined => {
    const node = image.current;
    if (!node?.complete || node.naturalWidth === 0) return;
    light.current ??= lightOf(node);
    const { data, width, height } = light.current;
    const box = node.getBoundingClientRect();
    const x = Math.floor(((e.clientX - box.left) / box.width) * width);
    const y = Math.floor(((e.clientY - box.top) / box.height) * height);
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    return [...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)];
  };
  const press = (e: MouseEvent) => {
    const { tool, edit } = store.getState();
    const colour = at(e);
    if (tool?.type === 'pick-colour' && colour) {
      change({ tool: undefined });
      edit((doc) => pickColour(doc, tool, colour));
    } else if (image.current?.complete)
      change({
        reference: isMeasured
          ? undefined
          : { id: reference.id, name: reference.name, measured: measuredReference(image.current) },
      });
  };
  return (
    <figure className="grid gap-1" data-reference={reference.id}>
      <button
        type="button"
        className={`block overflow-hidden rounded border ${isMeasured ? 'border-primary ring-1 ring-primary' : 'border-line'} ${picks ? 'cursor-crosshair' : 'cursor-pointer'}`}
        aria-label={
          picks ? t`Pick a colour of ${reference.name}` : t`Compare the scopes of ${reference.name}`
        }
        aria-pressed={isMeasured}
        onClick={press}
        onMouseMove={(e) => setUnder(at(e))}
        onMouseLeave={() => setUnder(undefined)}
      >
        <img ref={image} src={referenceAddress(reference)} alt={reference.name} className="w-full" />
      </button>
      <figcaption className="flex items-center gap-1 text-[11px] text-quiet">
        <span className="min-w-0 flex-1 truncate" title={reference.name}>
          {under ? under.slice(0, 3).map(formatLight).join(' ') : reference.name}
        </span>
        <button
          type="button"
          className={`cursor-pointer hover:text-primary ${isCompared ? 'text-primary' : ''}`}
          aria-label={t`Compare the picture with ${reference.name}`}
          title={t`Compare the picture with it`}
          aria-pressed={isCompared}
          onClick={() => {
            const { compare } = store.getState();
            const mode = isCompared ? 'off' : compare.mode === 'side' ? 'side' : 'wipe';
            change({
              compare: { ...compare, mode, with: isCompared ? 'input' : `reference:${reference.id}` },
            });
          }}
        >
          <Columns2 size={12} />
        </button>
        <button
          type="button"
          className="cursor-pointer hover:text-primary"
          aria-label={large ? t`Show ${reference.name} small` : t`Show ${reference.name} large`}
          onClick={onLarge}
        >
          {large ? <Minimize2 size={12} /> : <Maximize2 size={12} />}
        </button>
        <button
          type="button"
          className="cursor-pointer hover:text-error"
          aria-label={t`Remove ${reference.name}`}
          onClick={onRemove}
        >
          <Trash2 size={12} />
        </button>
      </figcaption>
    </figure>
  );
}
