import { api, ask } from "../../api/client";
import { counted } from "../../format/show";
import { useList } from "../../records/useList";
import { Button } from "../../ui/Button";
import { Place, Sheet } from "../../ui/Place";
import { Empty, Fetched } from "../../ui/States";
import { HeldChanges } from "./HeldChanges";

/** What was brought in of accounts, contacts, domains and blocks, and waits for a second person. */
export default function Held() {
  const list = useList(["held"], (page) => ask(api.GET("/api/v1/masterdata/held", { params: { query: page } })));
  return (
    <Place title="Wait for a second person" beside={<p className="text-ink-soft">{list.data?.length ? counted(list.data.length, "change") : ""}</p>}>
      <Fetched from={list}>
        {(rows) =>
          rows.length ? (
            <Sheet title="Changes that money and letters depend on">
              <HeldChanges rows={rows} />
              {list.more ? (
                <div className="px-4 pb-3">
                  <Button look="quiet" small onClick={list.more}>More</Button>
                </div>
              ) : null}
            </Sheet>
          ) : (
            <Empty title="Nothing waits">New accounts, contacts, domains and lifted blocks wait here until somebody else accepts them.</Empty>
          )
        }
      </Fetched>
    </Place>
  );
}
