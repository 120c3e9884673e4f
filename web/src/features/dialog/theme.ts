/** Ant Design drawn with our own colours: read from the style sheet, where they are defined once. */
import { theme as antdTheme, type ThemeConfig } from "antd";

export function themeNow(): ThemeConfig {
  const root = document.documentElement;
  const style = getComputedStyle(root);
  const read = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    algorithm: root.dataset["mode"] === "dark" ? antdTheme.darkAlgorithm : antdTheme.defaultAlgorithm,
    token: {
      colorPrimary: read("ink"),
      colorTextLightSolid: read("raised"),
      colorInfo: read("steel"),
      colorError: read("ember"),
      colorText: read("ink"),
      colorTextSecondary: read("quiet"),
      colorTextPlaceholder: read("quiet"),
      colorBgBase: read("paper"),
      colorBgContainer: read("raised"),
      colorBgElevated: read("raised"),
      colorBorder: read("quiet"),
      colorBorderSecondary: read("hairline"),
      borderRadius: 3,
      fontFamily: read("sans"),
      fontSize: 15,
      controlHeight: 44,
      boxShadow: "none",
      boxShadowSecondary: "0 0 0 1px rgb(0 0 0 / 18%)",
      motion: false,
    },
    components: { Button: { primaryShadow: "none", defaultShadow: "none", fontWeight: 600 } },
  };
}
