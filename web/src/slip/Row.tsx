/** A named figure in a table of numbers. */
export function Row({ name, value }: { name: string; value: string }) {
  return (
    <tr>
      <th scope="row">{name}</th>
      <td>{value}</td>
    </tr>
  );
}
