import { useEffect, useState } from 'react';

/** Seconds that are left, each second one fewer; set anew whenever the server says how many there are. Null for none. */
export function useCountdown(seconds: number | null): number | null {
  const [left, setLeft] = useState(seconds);
  useEffect(() => {
    setLeft(seconds);
    if (seconds === null || seconds <= 0) return;
    const timer = setInterval(() => setLeft((n) => (n === null ? null : Math.max(0, n - 1))), 1_000);
    return () => clearInterval(timer);
  }, [seconds]);
  return left;
}
