/** A letter that is to leave by itself, as it would leave now. */
export function LetterToCome({ subject, html }: { subject: string; html: string }) {
  return (
    <>
      <h3>{subject}</h3>
      {/* Nothing in it runs, and nothing is loaded. */}
      <iframe title="The letter as it would leave now" sandbox="" srcDoc={html} />
    </>
  );
}
