/** Light, dark, or as the system has it; kept in this browser. */
import { useState } from "react";
import { browserStorage } from "../ui/stored";

export type Theme = "system" | "light" | "dark";
export const THEMES: { value: Theme; label: string }[] = [
  { value: "system", label: "As the system has it" },
  { value: "light", label: "Light" },
  { value: "dark", label: "Dark" },
];
const KEY = "mild-ladder-theme";

const isTheme = (value: string | null): value is Theme => THEMES.some((theme) => theme.value === value);

function stored(): Theme {
  const value = browserStorage.getItem(KEY);
  return isTheme(value) ? value : "system";
}

export function applyTheme(theme: Theme = stored()): void {
  if (theme === "system") delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = theme;
}

export function useTheme() {
  const [theme, setTheme] = useState(stored);
  const choose = (value: string) => {
    if (!isTheme(value)) return;
    browserStorage.setItem(KEY, value);
    applyTheme(value);
    setTheme(value);
  };
  return { theme, choose };
}
