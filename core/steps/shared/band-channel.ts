import type { RangeChannel } from '../../kernels/key';
import type { StepSpec, Values } from './define';

/** The channel that a step's band lies on; red, where it has none. */
export function bandChannelOf(spec: StepSpec, values: Values): RangeChannel {
  const band = spec.editors?.find((editor) => editor.kind === 'band');
  const channel = band?.channelOf === undefined ? band?.channel : values[band.channelOf];
  return (channel ?? 'red') as RangeChannel;
}
