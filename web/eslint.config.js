import js from "@eslint/js";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** What each folder of src may import of the others. Rooms are reached through kinds/rooms alone; a test may import what it tests. */
const MAY = {
  api: [],
  geometry: ["api"],
  ui: ["api", "geometry"],
  state: ["api", "geometry", "ui"],
  stage: ["api", "geometry", "ui", "state", "sketch"],
  sketch: ["api", "geometry", "ui", "state", "commands"],
  kinds: ["api", "geometry", "ui", "state", "stage", "slip", "commands"],
  sheets: ["api", "geometry", "ui", "state"],
};
const ALL = [
  "api",
  "geometry",
  "ui",
  "state",
  "stage",
  "sketch",
  "strip",
  "cord",
  "slip",
  "locker",
  "kinds",
  "sheets",
  "commands",
  "pages",
];

const zones = Object.entries(MAY).map(([folder, may]) => ({
  files: [`src/${folder}/**/*.{ts,tsx}`],
  ignores: ["**/*.test.*"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: ALL.filter((other) => other !== folder && !may.includes(other)).map((other) => ({
          regex: other === "kinds" ? "^(\\.\\./)+kinds/(?!rooms?$)" : `^(\\.\\./)+${other}/`,
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
