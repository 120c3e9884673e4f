/** Colours and shapes: one set for daylight, one for a roof void. */
import { theme as antdTheme, type ThemeConfig } from "antd";

export type Mode = "light" | "dark";

const palette = {
  light: { ink: "#241f1b", paper: "#fbf8f3", raised: "#fffdf9", hairline: "#d9d0c4", quiet: "#6b5f53" },
  dark: { ink: "#efe7dc", paper: "#191613", raised: "#211d19", hairline: "#463e36", quiet: "#b3a697" },
} as const;

export function antdThemeFor(mode: Mode): ThemeConfig {
  const colours = palette[mode];
  return {
    algorithm: mode === "dark" ? antdTheme.darkAlgorithm : antdTheme.defaultAlgorithm,
    token: {
      colorPrimary: mode === "dark" ? "#e9dccb" : "#241f1b",
      colorTextLightSolid: mode === "dark" ? "#191613" : "#fffdf9",
      colorInfo: "#3c5a78",
      colorError: mode === "dark" ? "#f0916b" : "#b3421a",
      colorText: colours.ink,
      colorTextSecondary: colours.quiet,
      colorTextPlaceholder: colours.quiet,
      colorBgBase: colours.paper,
      colorBgContainer: colours.raised,
      colorBgElevated: colours.raised,
      colorBorder: mode === "dark" ? "#6d6155" : "#a79a8a",
      colorBorderSecondary: colours.hairline,
      borderRadius: 3,
      fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
      fontSize: 15,
      controlHeight: 40,
      boxShadow: "none",
      boxShadowSecondary: "0 0 0 1px rgb(0 0 0 / 18%)",
      motion: false,
    },
    components: { Button: { primaryShadow: "none", defaultShadow: "none", fontWeight: 600 } },
  };
}
