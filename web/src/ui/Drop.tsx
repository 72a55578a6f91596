/** The drop of a station on the trail; filled where you are. */
export function Drop({ filled }: { filled: boolean }) {
  return (
    <svg width="16" height="20" viewBox="0 0 16 20" aria-hidden="true">
      <path
        d="M8 1.2C8 1.2 1.6 7.4 1.6 12.2a6.4 6.4 0 0 0 12.8 0C14.4 7.4 8 1.2 8 1.2Z"
        transform="rotate(180 8 10)"
        fill={filled ? 'var(--mui-palette-dew-lagoon)' : 'none'}
        stroke="var(--mui-palette-dew-lagoon)"
        strokeWidth="1.7"
      />
    </svg>
  )
}

export function Logo() {
  return (
    <svg width="22" height="24" viewBox="0 0 22 24" aria-hidden="true" fill="var(--mui-palette-dew-onNight)">
      <circle cx="3.5" cy="20" r="2.6" />
      <circle cx="9.5" cy="14.5" r="2" opacity="0.85" />
      <circle cx="12.5" cy="8.5" r="1.6" opacity="0.7" />
      <path d="M18 0.5c0 0-2.6 2.7-2.6 4.6a2.6 2.6 0 0 0 5.2 0C20.6 3.2 18 .5 18 .5Z" />
    </svg>
  )
}
