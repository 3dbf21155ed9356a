/** A short titled list; with `look` it asks for attention. */
export function Notes({ title, lines, look = false }: { title: string; lines: string[]; look?: boolean }) {
  if (lines.length === 0) return null;
  return (
    <div className={`notes${look ? " look" : ""}`}>
      <h3>{title}</h3>
      <ul>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </div>
  );
}
