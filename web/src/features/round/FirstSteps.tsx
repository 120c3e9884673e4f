/** An empty round leads to the first loop. */
import { texts } from "../../texts";

function firstWords(hasSite: boolean, mayEdit: boolean, mayKeepSites: boolean): string {
  if (!hasSite && !mayKeepSites) return texts.list.noSiteYet;
  return mayEdit ? texts.list.start : texts.list.empty;
}

interface Props {
  hasSite: boolean;
  mayEdit: boolean;
  mayKeepSites: boolean;
  onOpen: (dialog: "loop" | "site") => void;
}

export function FirstSteps({ hasSite, mayEdit, mayKeepSites, onOpen }: Props) {
  return (
    <div className="empty first-steps">
      <p>{firstWords(hasSite, mayEdit, mayKeepSites)}</p>
      {mayEdit && (hasSite || mayKeepSites) && (
        <p className="form-buttons">
          {mayKeepSites && (
            <button
              type="button"
              className={hasSite ? "outlined" : "solid"}
              autoFocus={!hasSite}
              onClick={() => onOpen("site")}
            >
              {texts.list.startSite}
            </button>
          )}
          <button
            type="button"
            key={String(hasSite)}
            className={hasSite ? "solid" : "outlined"}
            autoFocus={hasSite}
            disabled={!hasSite}
            onClick={() => onOpen("loop")}
          >
            {texts.list.startLoop}
          </button>
        </p>
      )}
    </div>
  );
}
