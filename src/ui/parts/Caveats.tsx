/** What is to be known with every figure of a screen: it stands right below the first sentence. */
export function Caveats({ said }: { said: readonly string[] }) {
  return said.length ? (
    <p className="note" role="note">
      {said.join(' ')}
    </p>
  ) : null;
}
