import { type ReactNode, useEffect } from "react";
import { isCovered, isTyping, toHeading } from "./focus";

/** The title of the window: where one is, then the product; as it was for as long as that is not known. */
export function useTitle(...parts: (string | undefined)[]): void {
  const here = parts.filter(Boolean).join(" · ");
  useEffect(() => {
    if (here) document.title = `${here} · Mild Ladder`;
  }, [here]);
}

interface HeadingProps {
  children: ReactNode;
  /** What stands below it names the window. */
  isNamedBelow?: boolean;
  className?: string;
}

/** The heading of a page: who comes to the page comes to it, with the keyboard and a screen reader, unless they type. */
export const Heading = ({ children, isNamedBelow = false, className = "font-bold text-title" }: HeadingProps) => {
  useTitle(isNamedBelow || typeof children !== "string" ? undefined : children);
  useEffect(() => {
    if (!isTyping() && !isCovered()) toHeading();
  }, []);
  return (
    <h1 tabIndex={-1} className={`outline-none ${className}`}>
      {children}
    </h1>
  );
};
