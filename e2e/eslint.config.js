// What scripts are checked for: the browser's modules, and the tests.
import js from "@eslint/js";
import globals from "globals";
import playwright from "eslint-plugin-playwright";

const strict = {
  ...js.configs.recommended.rules,
  eqeqeq: "error",
  "no-var": "error",
  "prefer-const": "error",
  "no-eval": "error",
  "no-implied-eval": "error",
  "no-new-func": "error",
  "no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
  // Nothing from a record becomes markup by hand.
  "no-restricted-properties": [
    "error",
    { property: "outerHTML", message: "build elements" },
    { property: "insertAdjacentHTML", message: "build elements" },
    { object: "document", property: "write", message: "build elements" },
  ],
};

export default [
  {
    files: ["crates/web/assets/js/**/*.js"],
    languageOptions: { globals: { ...globals.browser, htmx: "readonly", Idiomorph: "readonly" } },
    rules: strict,
  },
  {
    files: ["e2e/**/*.js"],
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
    rules: strict,
  },
  {
    files: ["e2e/tests/**/*.js"],
    ...playwright.configs["flat/recommended"],
    rules: {
      ...playwright.configs["flat/recommended"].rules,
      // A page that is being refreshed is nowhere for a moment: boxOf and expect wait, a bare look does not.
      "no-restricted-syntax": [
        "error",
        {
          selector: "CallExpression[callee.property.name=/^(isVisible|isHidden|innerText|isEnabled|isChecked|inputValue)$/]",
          message: "expect(...) waits; this does not",
        },
        { selector: "CallExpression[callee.property.name='boundingBox']", message: "boxOf waits until it is drawn" },
      ],
      "playwright/expect-expect": "off",
      "playwright/no-conditional-in-test": "off",
      "playwright/no-conditional-expect": "off",
      "playwright/no-wait-for-timeout": "off",
      "playwright/no-skipped-test": "error",
      "playwright/no-raw-locators": "off",
      "playwright/no-force-option": "off",
    },
  },
  { ignores: ["**/node_modules/**", "**/vendor/**", "**/test-results/**"] },
];
