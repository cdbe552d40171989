import { Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import { useShot } from '@/browser/shot-store';
import { setLayer } from '@/core/finish/edits';
import type { StackHead, Strand } from '@/core/finish/finish';
import { IconButton } from '../parts/IconButton';
import { NumberField } from './NumberField';

/** Layers of a stack, the uppermost first, as one sees them. */
export function LayersHead({ strand, head }: { strand: Strand; head: StackHead }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  return (
    <ol className="grid gap-1 border-b border-line px-4 py-3" aria-label="Layers">
      {head.layers
        .map((layer, index) => ({ layer, index }))
        .reverse()
        .map(({ layer, index }) => (
          <li key={`${layer.media}/${layer.pass}`} className="flex items-center gap-1">
            <IconButton
              icon={layer.show ? Eye : EyeOff}
              label={layer.show ? `Hide ${layer.media}` : `Show ${layer.media}`}
              pressed={!layer.show}
              onClick={() => edit(setLayer(finish, strand.id, index, { show: !layer.show }))}
            />
            <LayerOpacity
              name={layer.media}
              opacity={layer.opacity}
              onCommit={(opacity) => edit(setLayer(finish, strand.id, index, { opacity }))}
            />
          </li>
        ))}
    </ol>
  );
}

function LayerOpacity({
  name,
  opacity,
  onCommit,
}: {
  name: string;
  opacity: number;
  onCommit(v: number): void;
}) {
  const [dragged, setDragged] = useState<number | undefined>();
  return (
    <div className="min-w-0 flex-1">
      <NumberField
        id={`opacity-${name}`}
        spec={{
          type: 'number',
          band: 'lay',
          name,
          says: `Opacity of the layer ${name}.`,
          unit: 'ratio',
          default: 1,
          from: 0,
          to: 1,
          soft: [0, 1],
        }}
        value={dragged ?? opacity}
        onPreview={(v) => setDragged(v as number)}
        onCommit={(v) => {
          setDragged(undefined);
          onCommit(v as number);
        }}
      />
    </div>
  );
}
