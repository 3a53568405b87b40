import a11y from "eslint-plugin-jsx-a11y";
import { createNodeResolver, importX } from "eslint-plugin-import-x";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...ts.configs.strict,
  a11y.flatConfigs.recommended,
  { plugins: { "react-hooks": hooks }, rules: hooks.configs.recommended.rules },
  // No module leads back to itself.
  {
    plugins: { "import-x": importX },
    settings: {
      "import-x/extensions": [".ts", ".tsx"],
      "import-x/parsers": { "@typescript-eslint/parser": [".ts", ".tsx"] },
      "import-x/resolver-next": [createNodeResolver({ extensions: [".ts", ".tsx"] })],
    },
    rules: { "import-x/no-cycle": ["error", { ignoreExternal: true }] },
  },
);
