import { MapPin } from 'lucide-react';
import type { ReactNode } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { bandChannelOf } from '@/core/steps/shared/band-channel';
import type { Editor, NumberSpec, StepSpec, Value } from '@/core/steps/shared/define';
import { t } from '../../words/words';
import { useValueEdits, useValues } from '../fields/AnimatedField';
import { CdlFiles } from './CdlFiles';
import { CurvesEditor } from './CurvesEditor';
import { GlarePlot } from './GlarePlot';
import { LightHistogram } from './LightHistogram';
import { MistHistogram } from './MistHistogram';
import { RangeHistogram } from './RangeHistogram';
import { TableFile } from './TableFile';

type Kind = Editor['kind'];
type Props<K extends Kind = Kind> = {
  editor: Extract<Editor, { kind: K }>;
  stepId: string;
  spec: StepSpec;
  values: Record<string, Value>;
  shot: ShotDetail;
  onPreview(values: Record<string, Value> | undefined): void;
  /** Gives the reason where the document refuses them. */
  onCommit(values: Record<string, Value>): string | undefined;
};

/** The editors that a step may declare. */
const editors: { [K in Kind]: (props: Props<K>) => ReactNode } = {
  light: ({ editor: { threshold, knee }, stepId, values, onPreview, onCommit }) => (
    <LightHistogram
      stepId={stepId}
      threshold={values[threshold] as number}
      knee={values[knee] as number}
      onPreview={(to) => onPreview(to === undefined ? undefined : { [threshold]: to })}
      onCommit={(to) => onCommit({ [threshold]: to })}
    />
  ),
  band: ({ stepId, spec, values, onPreview, onCommit }) => (
    <RangeHistogram
      stepId={stepId}
      channel={bandChannelOf(spec, values)}
      most={(spec.values.high as NumberSpec).to}
      values={values}
      onPreview={onPreview as never}
      onCommit={onCommit as never}
    />
  ),
  mist: ({ editor, stepId, values, onPreview, onCommit }) => (
    <MistHistogram
      stepId={stepId}
      slot={editor.depth}
      values={values}
      onPreview={onPreview}
      onCommit={onCommit}
    />
  ),
  place: ({ editor, stepId }) => <PickPlace step={stepId} coordinates={editor.coordinates} />,
  curves: ({ stepId, values, shot, onPreview, onCommit }) => (
    <CurvesEditor stepId={stepId} values={values} shot={shot} onPreview={onPreview} onCommit={onCommit} />
  ),
  table: ({ editor, values, onCommit }) => (
    <TableFile table={values[editor.table] as string} onCommit={onCommit} />
  ),
  cdl: ({ stepId, values, onCommit }) => <CdlFiles stepId={stepId} values={values} onCommit={onCommit} />,
  glare: ({ values }) => <GlarePlot values={values} />,
};

/** The editor that a step declares, with the step's values. */
export function DeclaredEditor(declared: Pick<Props, 'editor' | 'stepId' | 'spec' | 'shot'>) {
  const values = useValues(declared.stepId);
  const { preview, commit } = useValueEdits(declared.stepId);
  const Chosen = editors[declared.editor.kind] as (props: Props) => ReactNode;
  return <Chosen {...declared} values={values} onPreview={preview} onCommit={commit} />;
}

function PickPlace({ step, coordinates }: { step: string; coordinates: readonly string[] }) {
  const change = useShot((s) => s.change);
  return (
    <button
      type="button"
      className="btn btn-xs btn-soft"
      onClick={() => change({ tool: { type: 'pick-position', step, coordinates } })}
    >
      <MapPin size={13} /> {t`Pick the place on the picture`}
    </button>
  );
}
