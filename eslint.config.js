// What every script of the pages keeps to.
import js from "@eslint/js";
import globals from "globals";

export default [
  js.configs.recommended,
  { languageOptions: { globals: { ...globals.browser, htmx: "readonly", Idiomorph: "readonly" }, sourceType: "module" } },
  {
    rules: {
      complexity: ["error", 12],
      "max-len": ["error", { code: 140 }],
      "max-lines": ["error", 400],
      "max-lines-per-function": ["error", { max: 60, skipBlankLines: true }],
      "no-shadow": "error",
      "no-var": "error",
      "prefer-const": "error",
      eqeqeq: "error",
      curly: ["error", "multi-line"],
    },
  },
  { files: ["tests/**"], languageOptions: { globals: { ...globals.node } }, rules: { "max-lines-per-function": "off" } },
];
