import js from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// Rules that ask for types take nine tenths of the time: `make check` has them, `make test` leaves them out.
const slow = !process.env.QUICK;

export default tseslint.config(
  { ignores: ["dist", "dist-parts", "src/api/schema.d.ts", "eslint.config.js"] },
  js.configs.recommended,
  slow ? tseslint.configs.strictTypeChecked : tseslint.configs.strict,
  slow ? tseslint.configs.stylisticTypeChecked : tseslint.configs.stylistic,
  slow
    ? reactHooks.configs.flat.recommended
    : {
        plugins: { "react-hooks": reactHooks },
        rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
      },
  {
    ...(slow && {
      languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    }),
    rules: {
      complexity: ["error", 14],
      "max-lines": ["error", { max: 400, skipBlankLines: true, skipComments: true }],
      ...(slow && { "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }] }),
    },
  },
);
