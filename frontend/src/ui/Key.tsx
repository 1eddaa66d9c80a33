/** A key as it is printed beside what it does. */
export const Key = ({ children }: { children: string }) => (
  <span aria-hidden="true" className="key">
    {children}
  </span>
);
