import { createTheme, type CSSVariablesResolver, type MantineColorsTuple } from "@mantine/core";

const sea: MantineColorsTuple = [
  "#e8f4f3",
  "#d2e6e5",
  "#a5cccb",
  "#74b1b0",
  "#4d9a99",
  "#338b8b",
  "#1f7d7d",
  "#0e6a6b",
  "#055c5d",
  "#004b4d",
];
const madder: MantineColorsTuple = [
  "#fbecee",
  "#f1d5d8",
  "#e2a8ae",
  "#d37882",
  "#c7505d",
  "#bf3846",
  "#b23a48",
  "#a52437",
  "#941c30",
  "#831028",
];
const brass: MantineColorsTuple = [
  "#f9f2e4",
  "#efe3cc",
  "#dec69b",
  "#cda866",
  "#be8e3c",
  "#b57e22",
  "#a97b2c",
  "#976a17",
  "#875e10",
  "#765004",
];

/** Palettes and menus come and go at once: a fade waits for frames, which a busy stage may hold back for seconds. */
const AT_ONCE = { transitionProps: { duration: 0, exitDuration: 0 } };

export const theme = createTheme({
  primaryColor: "sea",
  primaryShade: { light: 7, dark: 4 },
  colors: { sea, madder, brass },
  fontFamily: "'Source Sans 3 Variable', sans-serif",
  fontFamilyMonospace: "'JetBrains Mono Variable', monospace",
  defaultRadius: 3,
  fontSizes: { xs: "12px", sm: "13.5px", md: "15px" },
  headings: { fontFamily: "'Source Sans 3 Variable', sans-serif", fontWeight: "600" },
  components: {
    Tooltip: { defaultProps: { openDelay: 350, withArrow: true } },
    Modal: { defaultProps: AT_ONCE },
    Popover: { defaultProps: AT_ONCE },
    Menu: { defaultProps: AT_ONCE },
    Spotlight: { defaultProps: AT_ONCE },
    SpotlightRoot: { defaultProps: AT_ONCE },
    Button: { defaultProps: { size: "xs" } },
    TextInput: { defaultProps: { size: "xs" } },
    Select: { defaultProps: { size: "xs", allowDeselect: false, comboboxProps: { withinPortal: true, ...AT_ONCE } } },
    MultiSelect: { defaultProps: { size: "xs", comboboxProps: { withinPortal: true, ...AT_ONCE } } },
    SegmentedControl: { defaultProps: { size: "xs", fullWidth: true } },
  },
});

/** Mantine's own surfaces in the colours of paper and ink. */
export const cssVariables: CSSVariablesResolver = () => ({
  variables: {},
  light: {
    "--mantine-color-body": "#FBF9F3",
    "--mantine-color-text": "#1E2B38",
    "--mantine-color-default": "#FFFEFA",
    "--mantine-color-default-border": "#CFC7B4",
    "--mantine-color-default-hover": "#F1ECDD",
    "--mantine-color-dimmed": "#5D6670",
    "--mantine-color-placeholder": "#7d8288",
  },
  dark: {
    "--mantine-color-body": "#18232D",
    "--mantine-color-text": "#E6E0CF",
    "--mantine-color-default": "#1F2C38",
    "--mantine-color-default-border": "#3B4A57",
    "--mantine-color-default-hover": "#273644",
    "--mantine-color-dimmed": "#9DA8B0",
    "--mantine-color-placeholder": "#84909a",
  },
});
