import { Copy, Link2, Trash2 } from 'lucide-react';
import type { ShotDetail } from '@/api/shots';
import { useRefusing, useShot } from '@/browser/session/store';
import { duplicateStrand } from '@/core/finish/copies';
import { tapsOf } from '@/core/finish/edit';
import { changeStrand, removeStrand } from '@/core/finish/edits';
import { passesUsed, type Strand } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { passUses } from '@/core/formats/pass-kinds';
import { IconButton } from '../parts/IconButton';
import { TextField } from '../parts/TextField';
import { Toggle } from '../parts/Toggle';
import { t } from '../words/words';
import { CoverageChart } from './CoverageChart';
import { GroupFields } from './GroupFields';
import { HandbookLink } from './HandbookLink';
import { LayersHead } from './heads/LayersHead';
import { MediaFields } from './heads/MediaFields';
import { MixHead } from './heads/MixHead';
import { ObjectsHead } from './heads/ObjectsHead';
import { PlainHead } from './heads/PlainHead';
import { ShapesHead } from './heads/ShapesHead';
import { SheetFrame } from './SheetFrame';

/** Where the handbook tells of a head. */
const chapters: Record<Strand['head']['type'], string> = {
  pass: 'frames',
  stack: 'drawings',
  mix: 'light',
  colour: 'board',
  gradient: 'board',
  tap: 'board',
  input: 'recipes',
  ids: 'mattes',
  shapes: 'mattes',
};

/** The head of the chosen strand: its pass or its layers, and how their files are read. */
export function StrandSheet({ strand, shot }: { strand: Strand; shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const covers = useShot((s) => s.noticed.thumbnails[strand.id]?.covers);
  const { head } = strand;
  const taken = tapsOf(finish).some((tap) => tap.strand === strand.id);
  const media = [...new Set(passesUsed(head).map((p) => p.media))]
    .map((name) => shot.media.find((m) => m.name === name))
    .filter((m) => m !== undefined);
  const pass = head.type === 'pass' ? media[0]?.passes.find((p) => p.name === head.pass) : undefined;
  return (
    <SheetFrame className="text-[13px]">
      <header className="flex items-center border-b border-line py-2 pr-1.5 pl-4">
        <h2 className="mr-2 min-w-0 truncate text-lg font-semibold">{strand.name}</h2>
        <HandbookLink page={chapters[head.type]} of={strand.name} />
        <span className="mr-auto" />
        <IconButton
          icon={Copy}
          label={t`Duplicate the strand`}
          onClick={() => edit((finish) => duplicateStrand(finish, strand.id, false))}
        />
        <IconButton
          icon={Link2}
          label={t`Linked copy of the strand`}
          onClick={() => edit((finish) => duplicateStrand(finish, strand.id, true))}
        />
        {strand.id !== finish.main && (
          <IconButton
            icon={Trash2}
            label={taken ? t`A step takes from this strand` : t`Remove the strand`}
            disabled={taken}
            onClick={() => edit((finish) => removeStrand(finish, strand.id))}
          />
        )}
      </header>
      {head.type === 'pass' ? (
        <p className="border-b border-line px-4 py-3 text-quiet">
          {t`The pass`} <b className="text-base-content">{head.pass || 'beauty'}</b> {t`of ${head.media}.`}
          {pass && <span className="block">{passUses[pass.kind]}</span>}
        </p>
      ) : head.type === 'stack' ? (
        <LayersHead strand={strand} head={head} shot={shot} />
      ) : head.type === 'mix' ? (
        <MixHead strand={strand} head={head} shot={shot} />
      ) : head.type === 'ids' ? (
        <ObjectsHead strand={strand} head={head} shot={shot} />
      ) : head.type === 'shapes' ? (
        <ShapesHead strand={strand} head={head} shot={shot} />
      ) : (
        <PlainHead strand={strand} shot={shot} />
      )}
      {kindAt(finish, strand.id, 'head') === 'matte' && (
        <CoverageChart place={{ strand: strand.id, after: 'head' }} now={covers} shot={shot} />
      )}
      <StrandFields strand={strand} />
      {strand.kind === 'data' && (
        <p className="border-b border-line px-4 py-3 text-quiet">
          {t`This strand carries data. Steps that change pictures rest on it; keys make mattes of it.`}
        </p>
      )}
      {head.type !== 'stack' &&
        media.map((m) => (
          <MediaFields
            key={m.id}
            media={m}
            shot={shot}
            className="grid gap-1.5 border-b border-line px-4 py-3"
          />
        ))}
    </SheetFrame>
  );
}

/** A strand's name, its output, and whether it is folded. */
function StrandFields({ strand }: { strand: Strand }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const refusing = useRefusing();
  const isMain = strand.id === finish.main;
  return (
    <section className="grid gap-1.5 border-b border-line px-4 py-3" aria-label={t`Strand`}>
      <div className="flex items-center gap-2">
        {t`Name`}
        <span className="ml-auto w-44">
          <TextField
            label={t`Name of the strand`}
            className="input input-xs w-full"
            value={strand.name}
            onCommit={(text) => {
              const name = text.trim();
              return name ? refusing((doc) => changeStrand(doc, strand.id, { name })) : undefined;
            }}
          />
        </span>
      </div>
      {!isMain && (
        <div
          className="flex items-center gap-2"
          title={t`Name under which this strand can be exported beside the finished picture.`}
        >
          {t`Output`}
          <span className="ml-auto w-44">
            <TextField
              label={t`Output`}
              className="input input-xs w-full"
              placeholder={t`none`}
              value={strand.output ?? ''}
              onCommit={(text) => {
                const output = text.trim().replace(/[^\w-]+/g, '-') || undefined;
                return refusing((doc) => changeStrand(doc, strand.id, { output }));
              }}
            />
          </span>
        </div>
      )}
      <GroupFields strand={strand} />
      <Toggle
        label={t`Folded`}
        checked={strand.folded ?? false}
        onChange={(on) => edit((finish) => changeStrand(finish, strand.id, { folded: on || undefined }))}
      />
    </section>
  );
}
