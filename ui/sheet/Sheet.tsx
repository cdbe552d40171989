import { dequal } from 'dequal';
import {
  ChevronDown,
  ChevronRight,
  ChevronUp,
  Eye,
  EyeOff,
  Link2,
  MousePointerClick,
  Search,
  Trash2,
} from 'lucide-react';
import { Fragment, type ReactNode, useMemo, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot, useShotPart } from '@/browser/session/store';
import { useWorkspace, withFolded, workspace } from '@/browser/workspace/workspace';
import { moveStep, removeStep, setBypass } from '@/core/finish/edits';
import { type Finish, findStep, originalOf, type Strand, specOf, stepName } from '@/core/finish/finish';
import { kindsAlong } from '@/core/finish/flow';
import { isUse, slotsOf, usesAround } from '@/core/finish/uses';
import { type Searchable, searchRank } from '@/core/steps/search';
import { isRelevant, type Section, type StepSpec, sections } from '@/core/steps/shared/define';
import { IconButton } from '../parts/IconButton';
import { State } from '../parts/State';
import { FrontEditor } from '../recipes/FrontEditor';
import { LockedInside } from '../recipes/LockedInside';
import { UseFields } from '../recipes/UseFields';
import { t } from '../words/words';
import { CoverageChart } from './CoverageChart';
import { DeclaredEditor } from './editors/Editors';
import { AnimatedField, isChanged, useValueEdits, valuesIn } from './fields/AnimatedField';
import { SlotField } from './fields/SlotField';
import { HandbookLink } from './HandbookLink';
import { SheetFrame } from './SheetFrame';
import { StepMenu } from './StepMenu';
import { StepPresets } from './StepPresets';
import { StepNote, StepTitle } from './StepWords';
import { StrandSheet } from './StrandSheet';

/** The step sheet: the selected step's slots and values by the band they answer. */
export function Sheet({ shot }: { shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const selected = useShot((s) => s.selected);
  const editing = useShot((s) => s.editing);
  const found = findStep(finish, selected ?? '');
  if (found)
    return <StepSheet key={found.step.id} stepId={found.step.id} strand={found.strand} shot={shot} />;
  const strand = finish.strands.find((s) => s.id === selected);
  const locked = strand && lockOf(finish, strand.id, editing);
  if (strand && locked)
    return (
      <div className="h-full overflow-y-auto">
        <LockedInside use={locked} />
        <fieldset disabled className="opacity-70">
          <StrandSheet key={strand.id} strand={strand} shot={shot} />
        </fieldset>
      </div>
    );
  if (strand) return <StrandSheet key={strand.id} strand={strand} shot={shot} />;
  return (
    <aside aria-label={t`Step sheet`}>
      <State
        is="empty"
        icon={MousePointerClick}
        title={t`Nothing is selected`}
        words={t`Choose a step on the board to see its values, or add one with the plus on a thread.`}
      />
    </aside>
  );
}

function StepSheet({ stepId, strand, shot }: { stepId: string; strand: Strand; shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const { step } = findStep(finish, stepId)!;
  const spec = useMemo(() => specOf(step)!, [step]);
  const lock = useShot((s) => lockOf(s.finish, stepId, s.editing));
  const editing = useShot((s) => s.editing === stepId);
  const { now, commit } = useValueEdits(stepId);
  const width = useShot((s) => s.size.width);
  const also = useShot((s) => s.also);
  const showsRare = useWorkspace((w) => w.showsRare);
  const [words, setWords] = useState('');
  const wanted = words.trim().toLowerCase();
  const isLong = Object.keys(spec.values).length > 8;
  /** Values that mean something beside the others as they are now. */
  const relevant = useShotPart((s) => {
    const values = valuesIn(s, stepId);
    return Object.keys(spec.values).filter((key) => isRelevant(spec.values[key], values));
  });
  const isFound = (one: Searchable) => wanted === '' || searchRank(one, wanted) !== undefined;
  const held = new Set(spec.editors?.flatMap((editor) => editor.holds ?? []));
  /** Keys of a section that have fields of their own. */
  const keysIn = (section: Section) =>
    relevant
      .filter((key) => spec.values[key].section === section)
      .filter((key) => !held.has(key))
      .filter((key) => isFound(spec.values[key]));
  /** Of these, those that wait until one asks for more. */
  const isHidden = (key: string) =>
    !showsRare &&
    wanted === '' &&
    spec.rare?.includes(key) === true &&
    !isChanged(finish, stepId, key, width);
  const field = (key: string) => (
    <AnimatedField key={key} of={stepId} valueKey={key} shot={shot} picksFor={stepId} />
  );
  const covers = useShot((s) => s.noticed.thumbnails[stepId]?.covers);
  const adds = useShot((s) => s.noticed.thumbnails[stepId]?.share);
  const at = strand.steps.findIndex((s) => s.id === stepId);
  const begun = useShot((s) => s.started[stepId]);
  // Those that nobody has changed since.
  const fromPicture = useShotPart((s) => {
    if (!begun) return [];
    const values = valuesIn(s, stepId);
    return Object.keys(begun.values).filter((key) => dequal(values[key], begun.values[key]));
  });
  return (
    <SheetFrame className="scroll-pt-[100px]">
      <header className="sticky top-0 z-10 border-b border-line bg-base-100 py-2 pr-1.5 pl-4">
        <div className="flex items-center">
          <StepTitle stepId={stepId} name={stepName(step)} />
          <IconButton
            icon={ChevronUp}
            label={t`Move up`}
            keys="Alt ↑"
            disabled={at === 0}
            onClick={() => edit((finish) => moveStep(finish, stepId, -1))}
          />
          <IconButton
            icon={ChevronDown}
            label={t`Move down`}
            keys="Alt ↓"
            disabled={at === strand.steps.length - 1}
            onClick={() => edit((finish) => moveStep(finish, stepId, 1))}
          />
          <IconButton
            icon={step.bypass ? EyeOff : Eye}
            label={step.bypass ? t`Enable` : t`Bypass`}
            keys="Y"
            pressed={step.bypass}
            onClick={() => edit((finish) => setBypass(finish, stepId, !step.bypass))}
          />
          {!isUse(step) && <StepPresets type={step.type} now={now} onTake={commit} />}
          <StepMenu stepId={stepId} strand={strand} shot={shot} />
          <IconButton
            icon={Trash2}
            label={t`Remove`}
            keys="Del"
            onClick={() => edit((finish) => removeStep(finish, stepId))}
          />
        </div>
        {!isUse(step) && (
          <p className="pr-2 text-xs text-quiet">
            {spec.description} <HandbookLink page={`steps/${spec.id}`} of={spec.name} />
          </p>
        )}
        {also.length > 0 && (
          <p className="pt-1 pr-2 text-xs text-primary" role="status" data-testid="together">
            {t`${also.length + 1} steps are selected: values that they share change together.`}
          </p>
        )}
        {isLong && (
          <label className="input input-xs mt-1.5 mr-2.5 flex w-auto">
            <Search size={12} aria-hidden="true" />
            <input
              type="search"
              aria-label={t`Search values`}
              placeholder={t`Search values`}
              value={words}
              onChange={(e) => setWords(e.target.value)}
              onKeyDown={(e) => {
                if (e.key !== 'Escape' || words === '') return;
                e.preventDefault();
                setWords('');
              }}
            />
          </label>
        )}
        {fromPicture.length > 0 && (
          <p className="pt-1 pr-2 text-xs text-secondary" data-testid="from-picture">
            {t`From the picture of frame ${begun?.frame}: ${fromPicture.map((key) => spec.values[key].name).join(', ')}.`}
          </p>
        )}
        {step.follows !== undefined && (
          <p className="flex items-center gap-1 pt-1 text-xs text-secondary">
            <Link2 size={12} /> {t`Follows ${stepName(originalOf(finish, step))}: values change in both.`}
          </p>
        )}
      </header>
      {isUse(step) && <UseFields use={findStep(finish, stepId)!.step} shot={shot} />}
      {lock && <LockedInside use={lock} />}
      {isUse(step) && editing && <FrontEditor use={findStep(finish, stepId)!.step} />}
      <fieldset disabled={lock !== undefined} className={lock ? 'opacity-70' : ''}>
        {(Object.keys(sections) as Section[]).map((section) => (
          <Fragment key={section}>
            {isUse(step) && section === 'keep' && <RecipeSlots useId={stepId} strand={strand} shot={shot} />}
            <StepSection
              section={section}
              spec={spec}
              searched={wanted !== ''}
              found={keysIn(section).length > 0}
              changed={keysIn(section).filter((key) => isChanged(finish, stepId, key, width)).length}
            >
              {Object.entries(spec.slots)
                .filter(([, slot]) => slot.section === section && isFound(slot))
                .map(([key, slot]) => (
                  <SlotField key={key} slotKey={key} slot={slot} step={step} strand={strand} shot={shot} />
                ))}
              {wanted === '' &&
                spec.editors
                  ?.filter((editor) => editor.section === section)
                  .map((editor) => (
                    <DeclaredEditor
                      key={editor.kind}
                      editor={editor}
                      stepId={stepId}
                      spec={spec}
                      shot={shot}
                    />
                  ))}
              {keysIn(section)
                .filter((key) => !isHidden(key))
                .map(field)}
              <More
                count={keysIn(section).filter((key) => spec.rare?.includes(key)).length}
                hidden={keysIn(section).filter(isHidden).length}
              />
            </StepSection>
          </Fragment>
        ))}
      </fieldset>
      {kindsAlong(finish, strand)[at + 1] === 'matte' && (
        <CoverageChart place={{ strand: strand.id, after: stepId }} now={covers} shot={shot} />
      )}
      {spec.stage === 'light' && !step.bypass && (
        <CoverageChart light place={{ strand: strand.id, after: stepId }} now={adds} shot={shot} />
      )}
      <StepNote stepId={stepId} note={step.note ?? ''} />
    </SheetFrame>
  );
}

/** The recipe that a step is inside of, where that is not being edited. */
export function lockOf(doc: Finish, id: string, editing: string | undefined): string | undefined {
  const around = usesAround(doc, id);
  return editing !== undefined && around.includes(editing) ? undefined : around[0];
}

/** The slots of a recipe beside its mask: what is linked to each. */
function RecipeSlots({ useId, strand, shot }: { useId: string; strand: Strand; shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const step = findStep(finish, useId)!.step;
  const slots = slotsOf(finish, useId);
  if (slots.length === 0) return null;
  return (
    <section className="grid gap-1.5 border-b border-line px-4 pt-2 pb-2.5" aria-label={t`slots`}>
      <h3 className="flex items-baseline text-[13px]">
        <span className="font-semibold text-secondary">{t`Slots`}</span>
        <span className="ml-auto text-xs text-quiet">{t`what does it need?`}</span>
      </h3>
      {slots.map(({ strand: inner, head }) => (
        <SlotField
          key={inner.id}
          slotKey={inner.id}
          slot={{ kind: inner.kind, section: 'take', name: inner.name, description: head.description ?? '' }}
          pass={head.pass}
          step={step}
          strand={strand}
          shot={shot}
        />
      ))}
    </section>
  );
}

/** Asks for the values of a section that are seldom needed, or puts them away again. */
function More({ count, hidden }: { count: number; hidden: number }) {
  const showsRare = useWorkspace((w) => w.showsRare);
  if (count === 0 || (hidden === 0 && !showsRare)) return null;
  return (
    <button
      type="button"
      className="-mb-1 cursor-pointer justify-self-start text-xs text-quiet hover:text-base-content"
      aria-expanded={showsRare}
      onClick={() => workspace.setState({ showsRare: !showsRare })}
    >
      {showsRare ? t`Fewer values` : t`More values (${hidden})`}
    </button>
  );
}

type SectionProps = {
  section: Section;
  spec: StepSpec;
  /** Values are searched: sections without one are left out, the others are unfolded. */
  searched: boolean;
  found: boolean;
  /** How many of its values are not as they begin. */
  changed: number;
  children: ReactNode;
};

/** A section with its question, which folds; left out where the step has nothing in it. */
function StepSection({ section, spec, searched, found, changed, children }: SectionProps) {
  const folded = useWorkspace((w) => w.folded.includes(section)) && !searched;
  const used = [...Object.values(spec.slots), ...Object.values(spec.values)].some(
    (x) => x.section === section,
  );
  if (!used || (searched && !found)) return null;
  const isFront = section === 'change' && isUse({ type: spec.id });
  return (
    <section
      className="grid gap-1.5 border-b border-line px-4 pt-2 pb-2.5 last:border-0"
      aria-label={section}
    >
      <h3 className="text-[13px]">
        <button
          type="button"
          className="group flex w-full cursor-pointer items-baseline text-left"
          aria-expanded={!folded}
          onClick={() => workspace.setState((w) => ({ folded: withFolded(w.folded, section) }))}
        >
          <ChevronRight
            size={12}
            aria-hidden="true"
            className={`-ml-3.5 shrink-0 self-center text-quiet ${folded ? '' : 'rotate-90 opacity-0 group-hover:opacity-100 group-focus-visible:opacity-100'}`}
          />
          <span className="ml-0.5 font-semibold text-secondary capitalize">
            {isFront ? t`front` : section}
          </span>
          {folded && changed > 0 && <span className="ml-2 text-xs text-quiet">{t`${changed} changed`}</span>}
          <span className="ml-auto text-xs text-quiet">
            {isFront
              ? t`what can be changed?`
              : section === 'take' && spec.sourceQuestion
                ? spec.sourceQuestion
                : sections[section]}
          </span>
        </button>
      </h3>
      {!folded && children}
    </section>
  );
}
