// Saved views: a query with its order and columns, under a name.
import { Bookmark } from "lucide-react";
import { fetched } from "../../state/retry";
import { Later } from "../../ui/Later";
import type { ViewsProps } from "../types";

const list = () => fetched(() => import("./ViewsList")).then((room) => room.ViewsList);

export const ViewsMenu = (props: ViewsProps) => (
  <Later
    part={list}
    props={props}
    trigger={{
      className: "button",
      children: (
        <>
          <Bookmark size={14} aria-hidden="true" /> Views
        </>
      ),
    }}
  />
);
