// The dialogs of the Cards room, loaded on demand.

import { lazy, Suspense } from "react";
import type { Sort } from "../../query/useFound";
import type { Card } from "../../state/client";
import { fetched } from "../../state/retry";
import type { Layout } from "../columnLayout";
import type { Column } from "../columns";
import type { CardsDialog } from "../types";

const ImportDialog = lazy(() =>
  fetched(() => import("../../files/components/ImportDialog")).then((room) => ({ default: room.ImportDialog })),
);
const ColumnsDialog = lazy(() =>
  fetched(() => import("./ColumnsDialog")).then((room) => ({ default: room.ColumnsDialog })),
);
const Compare = lazy(() => fetched(() => import("./Compare")).then((room) => ({ default: room.Compare })));
const EditMany = lazy(() => fetched(() => import("./EditMany")).then((room) => ({ default: room.EditMany })));
const GenerateDialog = lazy(() =>
  fetched(() => import("./MakeCards")).then((room) => ({ default: room.GenerateDialog })),
);
const VariantsDialog = lazy(() =>
  fetched(() => import("./MakeCards")).then((room) => ({ default: room.VariantsDialog })),
);
const ReplaceDialog = lazy(() =>
  fetched(() => import("./ReplaceDialog")).then((room) => ({ default: room.ReplaceDialog })),
);

type Props = {
  dialog: CardsDialog;
  setDialog: (dialog: CardsDialog) => void;
  chooseSet: (set: string) => void;
  columns: Column[];
  layout: Layout;
  changeLayout: (change: (before: Layout) => Layout) => void;
  sort: Sort[];
  setSort: (sort: Sort[]) => void;
  selected: string[];
  card: Card | undefined;
  column: string;
  made: (ids: string[]) => void;
  query: string;
  setId: string;
};

export function CardsDialogs(props: Props) {
  const { dialog, setDialog, chooseSet, columns, layout, changeLayout, sort, setSort } = props;
  const { selected, card, column, made, query, setId } = props;
  const close = (open: boolean) => {
    if (!open) setDialog(null);
  };
  return (
    <Suspense>
      {dialog === "import" && <ImportDialog open setOpen={close} done={chooseSet} />}
      {dialog === "columns" && (
        <ColumnsDialog
          open
          setOpen={close}
          columns={columns}
          layout={layout}
          change={changeLayout}
          sort={sort}
          setSort={setSort}
        />
      )}
      {dialog === "many" && <EditMany open setOpen={close} ids={selected} columns={columns} column={column} />}
      {card && dialog === "variants" && <VariantsDialog open setOpen={close} card={card} field={column} made={made} />}
      {dialog === "replace" && <ReplaceDialog open setOpen={close} query={query} setId={setId} />}
      {dialog === "compare" && <Compare open setOpen={close} ids={selected} columns={columns} />}
      {dialog === "generate" && <GenerateDialog open setOpen={close} setId={setId} made={made} />}
    </Suspense>
  );
}
