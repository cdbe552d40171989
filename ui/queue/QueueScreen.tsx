'use client';

import {
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Share } from 'lucide-react';
import Link from 'next/link';
import { type ReactNode, useMemo } from 'react';
import { toast } from 'sonner';
import { setUrgency, type Urgency, urgencies } from '@/api/exports';
import { type QueuedRun, readQueue } from '@/api/queue';
import { request } from '@/api/request';
import { useRunEnds } from '../exports/use-run-ends';
import { State } from '../parts/State';
import { t } from '../words/words';
import { Frame } from './Frame';
import { NotRead } from './NotRead';
import { isGoing, QueuedRow } from './QueuedRow';
import { WebhookForm } from './WebhookForm';

const groups: Record<Urgency, { name: string; words: string }> = {
  first: { name: t`First`, words: t`Before all others.` },
  usual: { name: t`In turn`, words: t`Exports here take turns, frame by frame.` },
  last: { name: t`Last`, words: t`When nothing else waits.` },
};

/** Exports of all shots: how far they are, what went wrong, and which go first. */
export function QueueScreen() {
  return (
    <Frame page="/queue">
      <Queue />
    </Frame>
  );
}

const key = ['queue'];

function Queue() {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => request(readQueue, {}, { signal }),
    refetchInterval: 1000,
  });
  const runs = useMemo(() => data?.runs ?? [], [data]);
  const ends = useMemo(
    () =>
      runs.map((r) => ({
        ...r,
        isOver: !isGoing(r),
        isCancelled: r.cancelled,
        failed: r.counts.failed ?? 0,
        done: r.counts.done ?? 0,
      })),
    [runs],
  );
  useRunEnds(ends);
  // A press that is no drag stays a press.
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor),
  );
  const change = async (work: Promise<unknown>) => {
    await work.catch((e) => toast.error((e as Error).message));
    await client.invalidateQueries({ queryKey: key });
  };
  const move = (id: number, urgency: Urgency) =>
    change(request(setUrgency, { params: { run: id }, body: { urgency } }));
  const drop = ({ active, over }: DragEndEvent) => {
    const run = runs.find((r) => r.id === active.id);
    const to = over?.id as Urgency | undefined;
    if (run && to && run.urgency !== to) void move(run.id, to);
  };
  if (!data) return <NotRead error={error} reading={t`Exports are being read …`} onRetry={refetch} />;
  const [open, over] = [runs.filter(isGoing), runs.filter((r) => !isGoing(r))];
  const rows = (list: readonly QueuedRun[]) =>
    list.map((run) => <QueuedRow key={run.id} run={run} onChange={change} onMove={move} />);
  return (
    <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={drop}>
      {(error || data.diskFull) && (
        <p role="status" className="mb-4 text-warning">
          {error
            ? error.message
            : t`The disk is full or read-only. Free some space, or mount it writable: exports wait, and go on by themselves.`}
        </p>
      )}
      {open.length === 0 && (
        <State
          is="empty"
          icon={Share}
          title={t`Nothing is being exported`}
          words={t`Open a shot and choose Export: its frames are listed here while they are made.`}
        >
          <Link href="/" className="btn btn-sm btn-primary">
            {t`Choose a shot`}
          </Link>
        </State>
      )}
      {open.length > 0 &&
        urgencies.map((urgency) => (
          <Group key={urgency} urgency={urgency}>
            {rows(open.filter((r) => r.urgency === urgency))}
          </Group>
        ))}
      {over.length > 0 && (
        <section className="mt-8">
          <h2 className="mb-2 font-semibold">{t`Ended`}</h2>
          <ul className="divide-y divide-line rounded-box border border-line bg-base-100">{rows(over)}</ul>
        </section>
      )}
      <WebhookForm />
    </DndContext>
  );
}

/** Exports of one urgency; others are dropped here. */
function Group({ urgency, children }: { urgency: Urgency; children: ReactNode[] }) {
  const { setNodeRef, isOver } = useDroppable({ id: urgency });
  const { name, words } = groups[urgency];
  return (
    <section className="mt-5" ref={setNodeRef} data-urgency={urgency}>
      <h2 className="mb-2 flex items-baseline gap-3 font-semibold">
        {name} <span className="text-xs font-normal text-quiet">{words}</span>
      </h2>
      <ul
        className={`divide-y divide-line rounded-box border bg-base-100 ${isOver ? 'border-primary' : 'border-line'}`}
      >
        {children.length > 0 ? (
          children
        ) : (
          <li className="px-3 py-2 text-xs text-quiet">{t`Drag an export here, or choose it in its list.`}</li>
        )}
      </ul>
    </section>
  );
}
