/** What a strand carries, and what a slot accepts: RGBA, one channel from 0 to 1, or data such as depth, normals and positions. */
export type Kind = 'picture' | 'matte' | 'data';
