interface ColumnNamesProps {
  of: readonly string[];
}

/** What the columns of a table are, for those who hear it: where one sees it, they speak for themselves. */
export const ColumnNames = ({ of }: ColumnNamesProps) => (
  <thead className="sr-only">
    <tr>
      {of.map((name) => (
        <th key={name} scope="col">
          {name}
        </th>
      ))}
    </tr>
  </thead>
);
