import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type ReactNode, useState } from 'react';
import { createExport, listPlaces } from '@/api/exports';
import { type RequestError, request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { useShotStore } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { exportsKey } from '@/browser/session/use-shot-data';
import {
  arrangements,
  canCarryFinish,
  exportChannels,
  exportScreens,
  exrCompressions,
  isExr,
  isForScreens,
  movieHeights,
  movieQualities,
} from '@/core/formats/export-formats';
import { fileWords } from '@/core/formats/file-words';
import { Options } from '../parts/Options';
import { t } from '../words/words';
import { bodyOf, type FormValues, formats, frameFormat, movieOf } from './form-values';
import { Place } from './Place';
import { Presets } from './Presets';

/** Asks for an export: which frames, how they are written, and where. */
export function ExportForm({ shot, children }: { shot: ShotDetail; children?: ReactNode }) {
  const store = useShotStore();
  const { autosave } = useSession();
  const { finish } = store.getState();
  const outputs = finish.strands.flatMap((s) => s.output ?? []);
  const client = useQueryClient();
  const [problem, setProblem] = useState<{ words: string; code: string }>();
  const [values, setValues] = useState<FormValues>({
    frames: `${shot.first}-${shot.last}`,
    name: fileWords(`${shot.name}_${finish.name}_v${autosave.version()}`, '_').toLowerCase(),
    output: '',
    format: 'exr',
    outputs: [],
    arrangement: 'layers',
    channels: 'rgba',
    compression: 'zip',
    level: 45,
    quality: 95,
    trim: false,
    carriesAttributes: true,
    carriesFinish: true,
    stops: 0,
    screen: 'plain',
    caption: false,
    rate: shot.rate,
    height: 0,
    movieQuality: 'good',
    into: '',
    standing: false,
  });
  const set = (change: Partial<FormValues>) => {
    setProblem(undefined);
    setValues({ ...values, ...change });
  };
  const { data: places } = useQuery({
    queryKey: ['places'],
    queryFn: () => request(listPlaces, {}),
    staleTime: 60_000,
  });
  const format = frameFormat(values.format);
  const movie = movieOf(values.format);
  const version = autosave.version();
  const caption = `${shot.name} · ${finish.name}`;

  async function ask(overwrites: boolean) {
    setProblem(undefined);
    try {
      const body = bodyOf(values, caption);
      const document = store.getState().finish;
      await request(createExport, { body: { shot: shot.id, document, version, overwrites, ...body } });
    } catch (error) {
      const { message, code } = error as RequestError;
      setProblem({ words: message, code });
    }
    await client.invalidateQueries({ queryKey: exportsKey(shot.id) });
  }
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void ask(false);
  };
  const text = (key: 'frames' | 'name' | 'into', label: string, isNeeded = true) => (
    <Row label={label}>
      <input
        name={key}
        className="input input-sm w-full"
        value={values[key]}
        placeholder={isNeeded ? undefined : t`Zafiro’s own store`}
        required={isNeeded}
        onChange={(e) => set({ [key]: e.target.value })}
      />
    </Row>
  );
  const list = <K extends keyof FormValues>(key: K, label: string, of: Record<string, string>) => (
    <Row label={label}>
      <select
        name={key}
        className="select select-sm w-full"
        value={String(values[key])}
        onChange={(e) =>
          set({ [key]: typeof values[key] === 'number' ? Number(e.target.value) : e.target.value })
        }
      >
        <Options of={of} />
      </select>
    </Row>
  );
  const number = (
    key: 'level' | 'quality' | 'stops' | 'rate',
    label: string,
    min: number,
    max: number,
    step = 1,
  ) => (
    <Row label={label}>
      <input
        name={key}
        type="number"
        className="input input-sm w-24"
        value={values[key]}
        {...{ min, max, step }}
        required
        onChange={(e) => set({ [key]: e.target.valueAsNumber })}
      />
    </Row>
  );
  const tick = (
    key: 'trim' | 'carriesAttributes' | 'carriesFinish' | 'caption' | 'standing',
    label: string,
    title: string,
  ) => (
    <label className="flex items-center gap-2" title={title}>
      <input
        type="checkbox"
        name={key}
        className="checkbox checkbox-xs"
        checked={values[key]}
        onChange={(e) => set({ [key]: e.target.checked })}
      />
      {label}
    </label>
  );

  return (
    <form className="grid gap-2.5 border-b border-line p-4 text-[13px]" onSubmit={submit}>
      <Presets values={values} onChoose={(kept) => set(kept)} />
      {text('frames', t`Frames`)}
      {outputs.length > 0 &&
        list('output', t`Picture`, {
          '': t`Finished picture`,
          ...Object.fromEntries(outputs.map((o) => [o, t`Output ${o}`])),
        })}
      {list('format', t`Format`, formats)}
      {isExr(format) && list('compression', t`Compression`, exrCompressions)}
      {isExr(format) && values.compression.startsWith('dwa') && number('level', t`Level`, 0, 1000)}
      {format === 'jpeg' && number('quality', t`Quality`, 1, 100)}
      {movie && (
        <>
          {number('rate', 'Frames/s', 1, 240, 0.001)}
          {list('height', t`Size`, movieHeights)}
          {movie !== 'ffv1' && list('movieQuality', t`Quality`, movieQualities)}
        </>
      )}
      {!movie && format !== 'jpeg' && list('channels', t`Channels`, exportChannels)}
      {isExr(format) && outputs.length > 0 && (
        <fieldset className="grid grid-cols-[88px_1fr] items-baseline">
          <legend className="sr-only">{t`Other outputs in the same file`}</legend>
          <span aria-hidden="true">{t`With it`}</span>
          <span className="flex flex-wrap gap-x-4 gap-y-1">
            {outputs
              .filter((o) => o !== values.output)
              .map((o) => (
                <label key={o} className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    checked={values.outputs.includes(o)}
                    onChange={(e) =>
                      set({
                        outputs: e.target.checked
                          ? [...values.outputs, o]
                          : values.outputs.filter((other) => other !== o),
                      })
                    }
                  />
                  {o}
                </label>
              ))}
          </span>
        </fieldset>
      )}
      {isExr(format) && values.outputs.length > 0 && list('arrangement', t`As`, arrangements)}
      {isForScreens(format) && (
        <>
          {list('screen', t`Tone curve`, exportScreens)}
          {number('stops', t`Exposure`, -20, 20, 0.1)}
        </>
      )}
      {text('name', t`Name`)}
      {places && places.roots.length > 0 && (
        <Place values={values} shot={shot} finish={finish.name} version={version}>
          {text('into', t`Folder`, false)}
        </Place>
      )}
      {places?.roots.length === 0 && (
        <Row label={t`Folder`}>
          <span className="text-xs text-quiet">
            {t`Zafiro’s own store, to download. For other folders start the server with ZAFIRO_EXPORT_ROOTS=/folder.`}
          </span>
        </Row>
      )}
      <div className="grid gap-1.5">
        {isForScreens(format) &&
          tick(
            'caption',
            t`Write shot, finish and frame into the picture`,
            t`“${caption}” and the frame’s number, in the lower left corner.`,
          )}
        {isExr(format) && (
          <>
            {tick('trim', t`Cut the data window to what is not empty`, t`The display window stays as it is.`)}
            {tick(
              'carriesAttributes',
              t`Keep the attributes of the render`,
              t`Camera, time code, owner and others.`,
            )}
          </>
        )}
        {!movie &&
          canCarryFinish(format) &&
          tick(
            'carriesFinish',
            t`Keep the finish in each frame`,
            t`EXR and PNG frames know how they were made: drop one onto a shot to open its finish.`,
          )}
        {!movie &&
          tick(
            'standing',
            t`Go on as frames come`,
            t`Frames are finished as soon as their files are whole, while a renderer is still writing, and again when it rewrites them.`,
          )}
      </div>
      {problem && (
        <p role="alert" className="text-error">
          {problem.words}
        </p>
      )}
      {children}
      <div className="flex justify-end gap-2">
        {problem?.code === 'conflict' && values.into && (
          <button type="button" className="btn btn-sm" onClick={() => ask(true)}>
            {t`Write over them`}
          </button>
        )}
        <button type="submit" className="btn btn-primary btn-sm">
          {t`Start export`}
        </button>
      </div>
    </form>
  );
}

const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
  <label className="grid grid-cols-[88px_1fr] items-center">
    {label}
    {children}
  </label>
);
