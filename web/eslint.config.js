import js from "@eslint/js";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/**
 * The folders of src, each with those that it may import of, from the lowest up. Some reach rooms, through kinds/rooms
 * alone, and what starts a step, through kinds/starts; a test may import what it tests.
 */
const MAY = {
  api: [],
  geometry: ["api"],
  ui: ["api", "geometry"],
  state: ["api", "geometry", "ui"],
  sketch: ["api", "geometry", "ui", "state"],
  stage: ["api", "geometry", "ui", "state", "sketch"],
  sheets: ["api", "ui", "state"],
  commands: ["api", "state", "ui"],
  slip: ["api", "ui", "state", "commands", "sheets"],
  kinds: ["api", "geometry", "ui", "state", "stage", "commands", "slip"],
  strip: ["api", "geometry", "ui", "state", "slip"],
  cord: ["api", "ui", "state", "stage"],
  locker: ["ui", "state", "commands"],
  pages: ["api", "ui", "state", "sketch", "stage", "commands", "slip", "strip", "cord", "locker"],
};
const REACH_ROOMS = ["stage", "commands", "slip", "strip", "cord", "pages"];
const ALL = Object.keys(MAY);

const closed = (folder, other) =>
  other === "kinds" && REACH_ROOMS.includes(folder) ? "^(\\.\\./)+kinds/(?!(rooms?|starts)$)" : `^(\\.\\./)+${other}/`;

const zones = Object.entries(MAY).map(([folder, may]) => ({
  files: [`src/${folder}/**/*.{ts,tsx}`],
  ignores: ["**/*.test.*"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: ALL.filter((other) => other !== folder && !may.includes(other)).map((other) => ({
          regex: closed(folder, other),
          message: `${folder} may import of ${["itself", ...may].join(", ")} alone.`,
        })),
      },
    ],
  },
}));

export default tseslint.config(
  { ignores: ["dist", "src/api/*.gen.*", "eslint.config.js"] },
  js.configs.recommended,
  ...tseslint.configs.recommendedTypeChecked,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  hooks.configs.flat.recommended,
  a11y.flatConfigs.recommended,
  ...zones,
  {
    files: ["src/**/*.{ts,tsx}"],
    rules: {
      "jsx-a11y/no-autofocus": "off", // a field that a person has just asked for is to be typed into
      "no-restricted-syntax": [
        "error",
        {
          selector: "CallExpression[callee.name=/^use(View|Part|Sketch|SketchView|Camera)$/][arguments.length=0]",
          message: "Select what is needed of a store: a whole one draws the component anew with every hover.",
        },
      ],
    },
  },
);
