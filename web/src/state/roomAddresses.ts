// Where one was in each room: a room one comes back to stands as one left it.
import { useEffect, useState } from "react";
import { useLocation, useParams } from "react-router";

const places = new Map<string, string>();
const room = (path: string): string => path.split("/").slice(1, 3).join("/");

/** Remembers the address of each room. */
export function usePlaces(): void {
  const location = useLocation();
  useEffect(() => {
    places.set(room(location.pathname), location.search);
  }, [location]);
}

/** Writes down where one is in a room before its address says so. */
export function keepPlace(path: string, search: string): void {
  places.set(room(path), search);
}

/** The address of a room of the game at hand, as it was left. */
export function useRoomAddress(): (path: string) => string {
  const { game = "" } = useParams();
  return (path) => `/${game}/${path}${places.get(`${game}/${path}`) ?? ""}`;
}

const kept = new Map<string, unknown>();

/** A state that outlives the room: such as what a list is narrowed to. */
export function useKept<T>(name: string, first: T): [T, (next: T) => void] {
  const { game = "" } = useParams();
  const key = `${game}/${name}`;
  const [held, setHeld] = useState<T>(() => (kept.has(key) ? (kept.get(key) as T) : first));
  return [
    held,
    (next: T) => {
      kept.set(key, next);
      setHeld(next);
    },
  ];
}
