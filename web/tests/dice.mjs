/** Numbers from 0 to 1 that are the same for the same seed (mulberry32). */
export function dice(seed) {
  let at = seed;
  return () => {
    at = (at + 0x6d2b79f5) | 0;
    let t = Math.imul(at ^ (at >>> 15), 1 | at);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
