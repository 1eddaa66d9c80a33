/** A sentence of the server whose titles, told in quotation marks, stand out. */
export const Titled = ({ text }: { text: string }) => (
  <>
    {text
      .split(/(“[^”]*”)/)
      .map((part, place) => (part.startsWith("“") ? <strong key={place}>{part.slice(1, -1)}</strong> : part))}
  </>
);
