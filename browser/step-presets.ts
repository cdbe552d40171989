import { useQuery, useQueryClient } from '@tanstack/react-query';
import { request } from '../api/request';
import { deleteStepPreset, listStepPresets, type StepPreset, saveStepPreset } from '../api/step-presets';

/** Presets of steps, in the library of the server: those of one step, or all. */
export function useStepPresets(step?: string) {
  const client = useQueryClient();
  const { data: presets = [] } = useQuery({
    queryKey: ['step-presets', step ?? 'all'],
    queryFn: () => request(listStepPresets, { query: { step } }),
  });
  const after = async (work: Promise<unknown>) => {
    await work;
    await client.invalidateQueries({ queryKey: ['step-presets'] });
  };
  return {
    presets,
    save: (preset: StepPreset) => after(request(saveStepPreset, { body: preset })),
    remove: ({ step, name }: Pick<StepPreset, 'step' | 'name'>) =>
      after(request(deleteStepPreset, { query: { step, name } })),
  };
}
