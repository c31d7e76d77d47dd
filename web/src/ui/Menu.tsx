// A menu of actions.
import type { ReactNode } from "react";
import { fetched } from "../state/retry";
import { Later, type Trigger } from "./Later";

export type MenuItem =
  | { id: string; shown: ReactNode; act: () => void; disabled?: boolean }
  | { id: string; heading: string }
  | { id: string; line: true };

export type MenuProps = {
  items: MenuItem[];
  align?: "start" | "end";
  /** What is done goes on with the focus elsewhere: the menu does not take it back to its button. */
  leavesFocus?: boolean;
};

const list = () => fetched(() => import("./MenuList")).then((room) => room.MenuList);

/** To have the menus there before they are asked for. */
export const fetchMenus = (): void => void list();

export const Menu = ({ trigger, ...props }: MenuProps & { trigger: Trigger }) => (
  <Later part={list} trigger={trigger} props={props} />
);
