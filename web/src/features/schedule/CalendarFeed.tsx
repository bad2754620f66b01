import { useState } from "react";
import { Button } from "../../components/Button";
import { field, standingLink } from "../../components/classes";

interface Props {
  feedKey: string;
  url: string;
}

const HERE = /^https?:\/\/(127\.|localhost|\[::1\])/;

/** The schedule for a calendar program: as a file to take along, or as an address that it reads by itself. */
export function CalendarFeed({ feedKey, url }: Props) {
  const [shown, setShown] = useState(false);
  return (
    <>
      <a
        className={`${standingLink} text-sm`}
        href={`/api/schedule/calendar/${feedKey}.ics`}
        download="darre.ics"
      >
        calendar file
      </a>
      {shown ? (
        <div className="w-full">
          <label className="text-sm text-muted">
            Address for a calendar program
            <input
              readOnly
              autoFocus
              className={`${field} num`}
              value={url}
              onFocus={(event) => {
                event.target.select();
              }}
            />
          </label>
          <p className="text-sm text-muted">
            Who knows it sees the schedule, so keep it to yourself.
            {HERE.test(url) &&
              " Only programs on this machine reach it; a phone does once you let other devices in."}
          </p>
        </div>
      ) : (
        <Button
          kind="link"
          className="text-sm"
          onClick={() => {
            setShown(true);
          }}
        >
          subscribe to it
        </Button>
      )}
    </>
  );
}
