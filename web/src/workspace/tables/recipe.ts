/** What a table is made by, and how settings of it are said. */
import type { LevelLook, Recipe } from "../view";

export type Path = readonly [keyof Recipe] | readonly ["looks", string, keyof LevelLook];

/** A setting by its path, and the value that it is to have. */
export type Setting = readonly [path: Path, value: unknown];

/** The recipe with other settings, as it will be once the core has them. */
export function withSettings(recipe: Recipe, settings: readonly Setting[]): Recipe {
  const looks = [...recipe.looks];
  let result = recipe;
  for (const [[name, level, property], value] of settings) {
    if (level === undefined || property === undefined) result = { ...result, [name]: value };
    else {
      const at = Number(level) - 1;
      const look = looks[at];
      if (look) looks[at] = { ...look, [property]: value };
    }
  }
  return { ...result, looks };
}
