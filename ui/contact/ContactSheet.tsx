'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { Columns2, ImageDown, LayoutGrid } from 'lucide-react';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Toaster, toast } from 'sonner';
import {
  type After,
  afterChange,
  type Change,
  commitChange,
  fetchTile,
  type Tile,
} from '@/browser/contact/tiles';
import { keyOf, usePictures, type Wanted } from '@/browser/contact/use-pictures';
import { useStartedEngine } from '@/browser/engine/use-engine';
import { AppHeader } from '../parts/AppHeader';
import { Modal } from '../parts/Modal';
import { RangeInput } from '../parts/RangeInput';
import { State } from '../parts/State';
import { t } from '../words/words';
import { BitmapCanvas } from './BitmapCanvas';
import { ChangeBar } from './ChangeBar';
import type { SheetLook } from './looks';
import { SheetTile } from './SheetTile';
import { saveSheet } from './sheet-picture';

type Props = { name: string; shots: readonly number[] };

/** The finished pictures of several shots, on one moment each, and changes of several shots at once. */
export function ContactSheet(props: Props) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  return (
    <QueryClientProvider client={client}>
      <Sheet {...props} />
      <Toaster theme="dark" position="bottom-left" />
    </QueryClientProvider>
  );
}

const noMedia = {};
/** How wide the pictures of a pair are made, in pixels. */
const largeWidth = 960;

function Sheet({ name, shots }: Props) {
  const { started, failed } = useStartedEngine(noMedia);
  const [tiles, setTiles] = useState<readonly Tile[]>([]);
  const [lost, setLost] = useState<readonly string[]>([]);
  const [loading, setLoading] = useState(true);
  const [by, setBy] = useState<'moment' | 'frame'>('moment');
  const [moment, setMoment] = useState(0);
  const [frame, setFrame] = useState(1);
  const [chosen, setChosen] = useState<readonly number[]>([]);
  const [wide, setWide] = useState(shots.length <= 2 ? 580 : shots.length <= 6 ? 400 : 320);
  const [change, setChange] = useState<Change>();
  const [look, setLook] = useState<SheetLook>('after');
  const [comparing, setComparing] = useState(false);
  useEffect(() => {
    let left = false;
    Promise.allSettled(shots.map((id) => fetchTile(id))).then((found) => {
      if (left) return;
      setTiles(found.flatMap((f) => (f.status === 'fulfilled' ? [f.value] : [])));
      setLost(found.flatMap((f) => (f.status === 'rejected' ? [(f.reason as Error).message] : [])));
      setLoading(false);
    });
    return () => {
      left = true;
    };
  }, [shots]);

  const frameOf = useCallback(
    ({ shot: { first, last } }: Tile) =>
      by === 'moment'
        ? Math.round(first + moment * (last - first))
        : Math.max(first, Math.min(last, Math.round(frame))),
    [by, moment, frame],
  );
  /** What the change makes of each shot that is chosen; an update reaches all that follow the recipe. */
  const afters = useMemo((): ReadonlyMap<number, After> => {
    if (!change) return new Map();
    const reached = tiles.filter(
      ({ shot }) => change.type === 'update' || change.type === 'take-back' || chosen.includes(shot.id),
    );
    return new Map(reached.map((t) => [t.shot.id, afterChange(t, change)]));
  }, [change, tiles, chosen]);
  const wantedOf = useCallback(
    (tile: Tile, which: 'before' | 'after', width: number): Wanted | undefined => {
      const after = afters.get(tile.shot.id);
      const finish =
        which === 'before' ? tile.saved.document : after && 'document' in after ? after.document : undefined;
      return finish && { shot: tile.shot, finish, frame: frameOf(tile), width };
    },
    [afters, frameOf],
  );
  /** What stands for a shot now: changed where that is shown and there is a change, else as it is. */
  const shownOf = useCallback(
    (tile: Tile, width: number) =>
      (change && look !== 'before' ? wantedOf(tile, 'after', width) : undefined) ??
      wantedOf(tile, 'before', width)!,
    [change, look, wantedOf],
  );
  const pair = useMemo(
    () => (comparing && chosen.length === 2 ? tiles.filter((t) => chosen.includes(t.shot.id)) : []),
    [comparing, chosen, tiles],
  );
  const wanted = useMemo(() => {
    const both =
      change !== undefined && look === 'both' ? tiles.map((t) => wantedOf(t, 'before', wide)!) : [];
    return [...pair.map((t) => shownOf(t, largeWidth)), ...tiles.map((t) => shownOf(t, wide)), ...both];
  }, [pair, tiles, shownOf, wantedOf, wide, change, look]);
  const pictures = usePictures(started?.engine, wanted);
  const pictureOf = (want: Wanted | undefined) => want && pictures.get(keyOf(want));

  const put = (tile: Tile) => setTiles((all) => all.map((t) => (t.shot.id === tile.shot.id ? tile : t)));
  const accept = async (accepted: Change) => {
    let count = 0;
    for (const tile of tiles) {
      if (!(accepted === change ? afters.get(tile.shot.id) : afterChange(tile, accepted))) continue;
      try {
        const next = await commitChange(tile, accepted);
        if (next) put(next);
        count++;
      } catch (error) {
        toast.error(`${tile.shot.name}: ${(error as Error).message}`, { duration: 12_000 });
      }
    }
    if (count > 0) toast.success(t`${count} shots have it.`);
    setChange(undefined);
  };
  const save = () =>
    saveSheet(
      name,
      tiles.map((t) => {
        const want =
          change && look !== 'before'
            ? (wantedOf(t, 'after', wide) ?? wantedOf(t, 'before', wide))
            : wantedOf(t, 'before', wide);
        const made = pictureOf(want);
        return {
          name: `${t.shot.project}, ${t.shot.name}`,
          words: `${t.saved.document.name}, frame ${frameOf(t)}`,
          bitmap: made && 'bitmap' in made ? made.bitmap : undefined,
        };
      }),
      `${name.replace(/[^\w-]+/g, '-')}-sheet.png`,
    ).catch((error) => toast.error((error as Error).message));
  const toggle = (id: number) =>
    setChosen((all) => (all.includes(id) ? all.filter((c) => c !== id) : [...all, id]));
  return (
    <main className="grid h-dvh grid-rows-[auto_auto_minmax(0,1fr)]">
      <AppHeader title={t`${name}, contact sheet`}>
        <div className="flex flex-wrap items-center gap-3 text-[13px]">
          <select
            className="select select-xs w-32"
            aria-label={t`Which frame`}
            value={by}
            onChange={(e) => setBy(e.target.value as 'moment' | 'frame')}
          >
            <option value="moment">{t`Same moment`}</option>
            <option value="frame">{t`Same frame`}</option>
          </select>
          {by === 'moment' ? (
            <RangeInput
              min={0}
              max={1}
              step={0.01}
              value={moment}
              className="range range-xs w-36"
              aria-label={t`Moment`}
              aria-valuetext={`${Math.round(moment * 100)} %`}
              onPreview={() => {}}
              onCommit={setMoment}
              onCancel={() => {}}
            />
          ) : (
            <input
              type="number"
              className="input input-xs w-20"
              aria-label={t`Frame`}
              value={frame}
              onChange={(e) => setFrame(Number(e.target.value) || 1)}
            />
          )}
          <span className="flex items-center gap-2 text-quiet">
            {t`Size`}
            <RangeInput
              min={200}
              max={800}
              step={20}
              value={wide}
              className="range range-xs w-24"
              aria-label={t`Size of the pictures`}
              onPreview={setWide}
              onCommit={setWide}
              onCancel={() => {}}
            />
          </span>
          <button
            type="button"
            className="btn btn-sm"
            disabled={chosen.length !== 2}
            onClick={() => setComparing(true)}
            title={t`Choose two shots`}
          >
            <Columns2 size={15} /> {t`Side by side`}
          </button>
          <button type="button" className="btn btn-sm" disabled={tiles.length === 0} onClick={save}>
            <ImageDown size={15} /> {t`Save as a picture`}
          </button>
        </div>
      </AppHeader>
      <ChangeBar
        tiles={tiles}
        chosen={chosen}
        change={change}
        afters={afters}
        look={look}
        onLook={setLook}
        onChange={setChange}
        onChoose={setChosen}
        onAccept={() => change && accept(change)}
      />
      <div className="overflow-y-auto px-6 pb-8">
        {failed && (
          <p role="alert" className="text-sm text-error">
            {t`The engine stopped. ${failed} Reload the page.`}
          </p>
        )}
        {lost.map((words) => (
          <p key={words} role="alert" className="text-sm text-error">
            {words}
          </p>
        ))}
        {loading && <State is="loading" title={t`Opening the shots…`} />}
        {!loading && tiles.length === 0 && lost.length === 0 && (
          <State
            is="empty"
            icon={LayoutGrid}
            title={t`No shots yet`}
            words={t`Import frames: each shot is a picture on this sheet.`}
          >
            <Link href="/import" className="btn btn-primary btn-sm">
              {t`Import frames`}
            </Link>
          </State>
        )}
        <ul
          className="grid gap-5"
          style={{ gridTemplateColumns: `repeat(auto-fill, minmax(min(100%, ${wide}px), 1fr))` }}
          aria-label={t`Shots`}
        >
          {tiles.map((tile) => (
            <SheetTile
              key={tile.shot.id}
              tile={tile}
              frame={frameOf(tile)}
              chosen={chosen.includes(tile.shot.id)}
              after={afters.get(tile.shot.id)}
              look={change ? look : 'before'}
              before={pictureOf(wantedOf(tile, 'before', wide))}
              changed={pictureOf(wantedOf(tile, 'after', wide))}
              onChoose={() => toggle(tile.shot.id)}
              onFinish={(finish) =>
                fetchTile(tile.shot.id, finish).then(put, (error) => toast.error((error as Error).message))
              }
              onTakeBack={(use) => accept({ type: 'take-back', shot: tile.shot.id, use })}
            />
          ))}
        </ul>
      </div>
      {pair.length === 2 && (
        <Modal label={t`Side by side`} box="w-[96vw] p-4" onClose={() => setComparing(false)}>
          <div className="grid grid-cols-2 gap-4">
            {pair.map((tile) => (
              <figure key={tile.shot.id}>
                <BitmapCanvas
                  made={pictureOf(shownOf(tile, largeWidth))}
                  ratio={tile.shot.height / tile.shot.width}
                />
                <figcaption className="pt-1 text-sm">
                  {tile.shot.name}{' '}
                  <span className="text-quiet">{t`${tile.saved.document.name}, frame ${frameOf(tile)}`}</span>
                </figcaption>
              </figure>
            ))}
          </div>
        </Modal>
      )}
    </main>
  );
}
