import { type ReactNode, useEffect, useRef, useState } from "react";

/** What is drawn only once it comes into view: heavy parts below the fold make nobody wait. */
export const WhenSeen = ({ children }: { children: ReactNode }) => {
  const [isSeen, setSeen] = useState(false);
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isSeen || !place.current) return;
    const observer = new IntersectionObserver((entries) => {
      if (entries.some((entry) => entry.isIntersecting)) setSeen(true);
    });
    observer.observe(place.current);
    return () => observer.disconnect();
  }, [isSeen]);
  return (
    <div ref={place} className="min-h-10">
      {isSeen && children}
    </div>
  );
};
