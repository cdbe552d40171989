import { type DecodedPlace, decodedStore } from '../../../engine/node/decoded-store';
import { dataPath } from '../../base/data-folder';

/** Passes that were unpacked once: for pages and exports alike. */
export const decodedPlace = (): DecodedPlace => ({
  folder: dataPath('decoded'),
  bytes: Number(process.env.ZAFIRO_DECODED_GIGABYTES || 8) * 2 ** 30,
});
export const decoded = decodedStore(decodedPlace());
