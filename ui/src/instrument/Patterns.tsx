/** The patterns that state a margin without colour: dots = tight, hatch = over. Drawn once for the whole page. */
export function Patterns() {
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        <pattern id="tight" width="5" height="5" patternUnits="userSpaceOnUse">
          <rect width="5" height="5" fill="#f0ddb2" />
          <circle cx="1.3" cy="1.3" r="1.1" fill="#cc9433" />
          <circle cx="3.8" cy="3.8" r="1.1" fill="#cc9433" />
        </pattern>
        <pattern id="over" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="#9e2a3b" />
          <rect width="1.4" height="5" fill="#e8c8c1" />
        </pattern>
        <pattern id="just-over" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="#e8c8c1" />
          <rect width="1.6" height="5" fill="#9e2a3b" />
        </pattern>
      </defs>
    </svg>
  );
}
