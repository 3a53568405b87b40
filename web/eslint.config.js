import a11y from "eslint-plugin-jsx-a11y";
import { createNodeResolver, importX } from "eslint-plugin-import-x";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

/** The folders of the browser's part, each of which knows those before it and none behind. */
const FLOORS = ["api", "theme", "workspace/view", "workspace/room", "workspace/place-kinds", "workspace/controls", "workspace/printed", "workspace/text-leaf", "workspace/tables", "workspace/table-leaf", "workspace/panels", "workspace/spine", "workspace/proof", "workspace/book"];

export default ts.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...ts.configs.strict,
  a11y.flatConfigs.recommended,
  { plugins: { "react-hooks": hooks }, rules: hooks.configs.recommended.rules },
  // No module leads back to itself, and no folder to one that knows it.
  {
    plugins: { "import-x": importX },
    settings: {
      "import-x/extensions": [".ts", ".tsx"],
      "import-x/parsers": { "@typescript-eslint/parser": [".ts", ".tsx"] },
      "import-x/resolver-next": [createNodeResolver({ extensions: [".ts", ".tsx"] })],
    },
    rules: {
      "import-x/no-cycle": ["error", { ignoreExternal: true }],
      "import-x/no-restricted-paths": [
        "error",
        { zones: FLOORS.slice(0, -1).map((floor, at) => ({ target: `./src/${floor}`, from: FLOORS.slice(at + 1).map((other) => `./src/${other}`) })) },
      ],
    },
  },
);
