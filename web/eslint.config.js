import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...ts.configs.strict,
  a11y.flatConfigs.recommended,
  { plugins: { "react-hooks": hooks }, rules: hooks.configs.recommended.rules },
);
