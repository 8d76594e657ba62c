/** Said where an address leads to what is not there any more. */
export function Gone({ what, onLeave }: { what: string; onLeave: () => void }) {
  return (
    <div className="note warns" role="status">
      {what} of this address is not there any more, or never was in this project.{' '}
      <button type="button" className="linkish" onClick={onLeave}>
        All right
      </button>
    </div>
  );
}
