/** A value, a little later: so that what is typed is asked for when the typing rests. */
import { useEffect, useState } from "react";

export function useRestedValue<T>(value: T, milliseconds = 350): T {
  const [later, set] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => set(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return later;
}
