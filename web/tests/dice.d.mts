/** Numbers from 0 to 1 that are the same for the same seed. */
export function dice(seed: number): () => number;
