/** The look: warm paper, an aubergine spine, verdigris where all is well and marigold where it is not. */
import { createSystem, defaultConfig, defineConfig } from "@chakra-ui/react";

const pair = (light: string, dark: string) => ({ value: { base: light, _dark: dark } });

const config = defineConfig({
  globalCss: {
    "html, body, #root": { height: "100%" },
    body: { bg: "leaf", color: "ink", fontFamily: "body", fontSize: "15px", lineHeight: 1.45 },
    // A track of its own colour would stand beside the leaves as a white stripe.
    "*": { scrollbarColor: "var(--chakra-colors-rib-quiet) transparent" },
    "*:focus-visible": { outline: "2px solid var(--chakra-colors-iris)", outlineOffset: "2px" },
    "*, *::before, *::after": { _motionReduce: { transition: "none !important", animation: "none !important" } },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Figtree Variable', sans-serif" },
        heading: { value: "Gelasio, serif" },
      },
    },
    semanticTokens: {
      colors: {
        leaf: pair("#FBFAF7", "#1D1A20"),
        tableLeaf: pair("#F1F0EC", "#242028"),
        raised: pair("#FFFFFF", "#2B2630"),
        edge: pair("#D9D5CE", "#3F3846"),
        ink: pair("#26222B", "#ECE8EF"),
        quiet: pair("#635C6B", "#B3ABBB"),
        spine: pair("#33263B", "#150F19"),
        rib: pair("#EDE6F2", "#EDE6F2"),
        ribQuiet: pair("#BFB0C9", "#BFB0C9"),
        level: pair("#2F7D6B", "#6CC4AE"),
        levelOnSpine: pair("#7FD1BC", "#7FD1BC"),
        behind: pair("#C98A12", "#E0A63A"),
        behindInk: pair("#845600", "#E9B758"),
        behindWash: pair("#FBF1DC", "#3A2F1B"),
        behindOnSpine: pair("#F0B94A", "#F0B94A"),
        gone: pair("#A63B27", "#EE8D77"),
        iris: pair("#5B4AA0", "#B3A5EE"),
        irisWash: pair("#EAE6F7", "#342C4D"),
      },
    },
  },
});

export const system = createSystem(defaultConfig, config);

/** Follows the system's choice between light and dark. */
export function followColourScheme(): void {
  const query = window.matchMedia("(prefers-color-scheme: dark)");
  const apply = () => {
    document.documentElement.classList.toggle("dark", query.matches);
    document.documentElement.classList.toggle("light", !query.matches);
  };
  query.addEventListener("change", apply);
  apply();
}
