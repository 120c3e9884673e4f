/** A padlock, drawn: beside a word, never instead of one. */
export function LockMark() {
  return (
    <svg className="lock-mark" viewBox="0 0 14 16" aria-hidden="true">
      <path d="M4 7V4.5a3 3 0 0 1 6 0V7" />
      <rect x="1.5" y="7" width="11" height="8" />
    </svg>
  );
}
