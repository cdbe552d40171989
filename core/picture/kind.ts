/** Kinds of strands and slots: RGBA, one channel from 0 to 1, or data such as depth, normals and positions. */
export type Kind = 'picture' | 'matte' | 'data';
