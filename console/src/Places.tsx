import { Route, Routes } from "react-router";
import type { Session } from "./api/client";
import { SessionContext } from "./ui/session";
import { later } from "./ui/later";
import { Empty } from "./ui/States";

/** Each place is fetched when it is first gone to. */
const Today = later(() => import("./places/today/Today"));
const DeskList = later(() => import("./places/desk/DeskList"));
const Work = later(() => import("./places/desk/Work"));
const Documents = later(() => import("./places/documents/Documents"));
const DocumentStory = later(() => import("./places/documents/DocumentStory"));
const Mails = later(() => import("./places/mail/Mails"));
const MailDetail = later(() => import("./places/mail/MailDetail"));
const Peek = later(() => import("./places/mail/Peek"));
const Accounted = later(() => import("./places/mail/Accounted"));
const Pipelines = later(() => import("./places/pipelines/Pipelines"));
const PipelinePlace = later(() => import("./places/pipelines/PipelinePlace"));
const Vendors = later(() => import("./places/vendors/Vendors"));
const Held = later(() => import("./places/vendors/Held"));
const VendorDetail = later(() => import("./places/vendors/VendorDetail"));
const Orders = later(() => import("./places/orders/Orders"));
const OrderDetail = later(() => import("./places/orders/OrderDetail"));
const MasterData = later(() => import("./places/masterdata/MasterData"));
const Trail = later(() => import("./places/trail/Trail"));
const Connections = later(() => import("./places/connections/Connections"));
const ConnectionDetail = later(() => import("./places/connections/ConnectionDetail"));
const People = later(() => import("./places/people/People"));
const PersonDetail = later(() => import("./places/people/PersonDetail"));

const FIRST = [Today, DeskList, Work, Documents, DocumentStory] as const;

/** Fetches what an address needs while the session is still asked for, so that both come together. */
export function fetchPlace(path: string): void {
  const [today, desk, work, documents, story] = FIRST;
  if (path === "/") today.fetch();
  else if (/^\/desk\/./.test(path)) work.fetch();
  else if (path === "/desk") desk.fetch();
  else if (/^\/documents\/./.test(path)) story.fetch();
  else if (path === "/documents") documents.fetch();
}

/** The desk is gone to next, most likely: it is there when one clicks. */
export function fetchDesk(): void {
  DeskList.fetch();
  Work.fetch();
}

export function Places({ session }: { session: Session }) {
  return (
    <SessionContext value={session}>
        <Routes>
          <Route path="/" element={<Today />} />
          <Route path="/desk" element={<DeskList />} />
          <Route path="/desk/:id" element={<Work />} />
          <Route path="/documents" element={<Documents />} />
          <Route path="/documents/:id" element={<DocumentStory />} />
          <Route path="/mail" element={<Mails />} />
          <Route path="/mail/peek" element={<Peek />} />
          <Route path="/mail/accounted" element={<Accounted />} />
          <Route path="/mail/:id" element={<MailDetail />} />
          <Route path="/pipelines" element={<Pipelines />} />
          <Route path="/pipelines/:name" element={<PipelinePlace />} />
          <Route path="/vendors" element={<Vendors />} />
          <Route path="/vendors/held" element={<Held />} />
          <Route path="/vendors/:code" element={<VendorDetail />} />
          <Route path="/orders" element={<Orders />} />
          <Route path="/orders/:number" element={<OrderDetail />} />
          <Route path="/masterdata" element={<MasterData />} />
          <Route path="/trail" element={<Trail />} />
          <Route path="/connections" element={<Connections />} />
          <Route path="/connections/:name" element={<ConnectionDetail />} />
          <Route path="/people" element={<People />} />
          <Route path="/people/:username" element={<PersonDetail />} />
          <Route
            path="*"
            element={
              <main className="pt-16">
                <Empty title="There is no such place">The address may be mistyped.</Empty>
              </main>
            }
          />
        </Routes>
    </SessionContext>
  );
}
