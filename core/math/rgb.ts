/** Red, green and blue in linear light, Rec. 709 primaries. */
export type Rgb = readonly [number, number, number];
