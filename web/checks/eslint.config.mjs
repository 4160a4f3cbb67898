import js from "@eslint/js";
import globals from "globals";

// Functions and classes that one can see whole: 80 lines of code for a function.
export default [
  {
    files: ["**/*.js"],
    languageOptions: { ecmaVersion: 2024, sourceType: "module", globals: globals.browser },
    rules: {
      ...js.configs.recommended.rules,
      eqeqeq: "error",
      "no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "max-lines-per-function": ["error", { max: 80, skipBlankLines: true, skipComments: true }],
      "no-shadow": "off",
      "no-var": "error",
      "prefer-const": ["error", { destructuring: "all" }],
    },
  },
  { files: ["made/*.js"], rules: { "prefer-const": "off" } },
];
