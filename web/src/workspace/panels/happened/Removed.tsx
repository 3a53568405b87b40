/** A section that was removed: what it was, read here, and what brings it back. */
import { Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Happened } from "../../../api/client";
import { Press } from "../../controls/parts";
import type { Returning } from "./useReturning";

interface Props {
  one: Happened;
  /** When, and the tables that it is in. */
  about: string;
  report: string;
  /** For whoever may write. */
  returning: Returning | null;
  tabbable: boolean;
}

export function Removed({ one, about, report, returning, tabbable }: Props) {
  const [open, setOpen] = useState(false);
  const tab = tabbable ? 0 : -1;
  return (
    <div className="happened gone">
      <button type="button" className="place" aria-expanded={open} tabIndex={tab} onClick={() => setOpen(!open)}>
        {one.text}
        <span className="about">
          {about}
          {about && " · "}
          {open ? "Close it" : "Read it"}
        </span>
      </button>
      {open && <Words report={report} section={one.id} />}
      {returning && (
        <Flex gap="1" wrap="wrap">
          <Press type="button" tabIndex={tab} aria-label={`Put it back: ${one.text}`} onClick={() => void returning.sectionBack(one.id)}>
            Put it back
          </Press>
          <Press type="button" tabIndex={tab} aria-label={`Put in at the cursor: ${one.text}`} onClick={() => void returning.sectionHere(one.id)}>
            Put in at the cursor
          </Press>
        </Flex>
      )}
    </div>
  );
}

function Words({ report, section }: { report: string; section: string }) {
  const read = useQuery({ queryKey: ["removed", report, section], queryFn: () => api.removedSection(report, section), retry: false, gcTime: 0, refetchOnWindowFocus: false });
  if (read.isError) return <p role="alert">{read.error.message}</p>;
  if (!read.data) return <p role="status">One moment …</p>;
  return (
    <blockquote tabIndex={-1} aria-label="What was removed">
      {read.data.paragraphs.map(([level, words], index) => (
        <p key={index} className={level > 0 ? "heading" : undefined}>
          {words}
        </p>
      ))}
    </blockquote>
  );
}
