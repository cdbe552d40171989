/** Zafiro's mark: a cut stone that throws light to one side. */
export function Mark({ size = 20 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 20 20" aria-hidden="true">
      <path
        d="M3 8 7 3h6l4 5-7 9z"
        fill="none"
        stroke="var(--color-primary)"
        strokeWidth="1.6"
        strokeLinejoin="round"
      />
      <path d="M10 17 7.5 8h9.3z" fill="var(--color-primary)" opacity=".55" />
      <path d="M7.5 8 10 3h3l4 5z" fill="var(--color-secondary)" opacity=".9" />
    </svg>
  );
}
