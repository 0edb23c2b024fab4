/** A place that was pinned, with its number in the ledger. */
export function PinMark({ at: [x, y], number }: { at: [number, number]; number: number }) {
  return (
    <g>
      <circle cx={x} cy={y} r="7" fill="none" stroke="#000" strokeWidth="3" />
      <circle cx={x} cy={y} r="7" fill="none" stroke="#fff" strokeWidth="1.2" />
      <text x={x + 11} y={y + 4} fontSize="12" fill="#fff" stroke="#000" strokeWidth="2.4" paintOrder="stroke">
        {number}
      </text>
    </g>
  );
}
