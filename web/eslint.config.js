import js from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// Two kinds of rules take two thirds of the time: `make check` asks for them, `make test` leaves them out.
const slow = !process.env.QUICK;

export default tseslint.config(
  { ignores: ["dist", "dist-parts", "src/api/schema.d.ts", "eslint.config.js"] },
  js.configs.recommended,
  tseslint.configs.strictTypeChecked,
  tseslint.configs.stylisticTypeChecked,
  slow
    ? reactHooks.configs.flat.recommended
    : {
        plugins: { "react-hooks": reactHooks },
        rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
      },
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      ...(slow ? {} : { "@typescript-eslint/no-deprecated": "off" }),
      complexity: ["error", 14],
      "max-lines": ["error", { max: 400, skipBlankLines: true, skipComments: true }],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
    },
  },
);
