// Rules for the scripts of the pages and their tests.
import js from "@eslint/js";

const BROWSER = [
  "AbortController", "Blob", "CanvasRenderingContext2D", "CustomEvent", "DOMPoint", "DataTransfer", "Event", "EventSource", "FormData",
  "HTMLElement", "Image", "MutationObserver", "Option", "Path2D", "Proxy", "ResizeObserver", "SharedWorker", "URL", "URLSearchParams",
  "addEventListener", "atob", "clearInterval", "clearTimeout", "confirm", "console", "crypto", "document", "fetch", "getComputedStyle",
  "getSelection", "history", "htmx", "innerHeight", "innerWidth", "localStorage", "location", "navigator", "prompt", "queueMicrotask",
  "requestAnimationFrame", "scrollTo", "sessionStorage", "setInterval", "setTimeout", "window",
];
const WORKER = ["onconnect"];
const known = (names) => Object.fromEntries(names.map((name) => [name, "readonly"]));

export default [
  js.configs.recommended,
  {
    files: ["src/mosskeeper/web/static/js/**/*.js", "tests/js/**/*.mjs", "eslint.config.js"],
    languageOptions: { ecmaVersion: 2024, sourceType: "module", globals: { ...known(BROWSER), ...Object.fromEntries(WORKER.map((n) => [n, "writable"])) } },
    linterOptions: { reportUnusedDisableDirectives: "error" },
    rules: {
      "no-unused-vars": ["error", { argsIgnorePattern: "^_", caughtErrors: "none" }],
      "prefer-const": ["error", { destructuring: "all" }],
      "no-var": "error",
      eqeqeq: ["error", "always"],
      "no-implicit-globals": "error",
      "no-shadow-restricted-names": "error",
      "no-empty": ["error", { allowEmptyCatch: false }],
      complexity: ["error", 24],
    },
  },
];
