/** A message that is to leave automatically, as it would leave now. */
export function UpcomingMessage({ subject, html }: { subject: string; html: string }) {
  return (
    <>
      <h3>{subject}</h3>
      {/* Nothing in it runs, and nothing is loaded. */}
      <iframe title="The message as it would be sent now" sandbox="" srcDoc={html} />
    </>
  );
}
