import { useState } from "react";
import { Form as Fields, Modal } from "react-bootstrap";
import { Form, Link } from "react-router";
import type { Person } from "#server/auth/person";
import { Button } from "./Button";
import { CSS_PX_PER_MM, SCALES } from "../view/scales";
import { useIsLive } from "../view/live";
import { useTitleEntries } from "../view/titleBlock";
import { useView } from "../view/viewContext";

const UNITS = ["mm", "cm", "m", "in"] as const;

/** The strip along the bottom, as on a drawing: scale, unit, what is selected and how it adds up, and who looks. */
export function TitleBlock({ person }: { person: Person }) {
  const { scale, unit, setScale, setUnit, greyGround, setGreyGround } = useView();
  const { selected, sum } = useTitleEntries();
  const isLive = useIsLive();
  const [calibrating, setCalibrating] = useState(false);
  return (
    <footer className="title-block">
      <div className="cell">
        <label htmlFor="scale">Scale</label>
        <select id="scale" value={scale} onChange={(event) => setScale(Number(event.target.value))}>
          {SCALES.map((value) => (
            <option key={value} value={value}>
              1:{value}
            </option>
          ))}
        </select>
      </div>
      <div className="cell">
        <span className="cell-label">Screen</span>
        <button type="button" className="plain" onClick={() => setCalibrating(true)}>
          calibrate
        </button>
      </div>
      <div className="cell">
        <label htmlFor="unit">Unit</label>
        <select
          id="unit"
          value={unit}
          onChange={(event) => setUnit(event.target.value as (typeof UNITS)[number])}
        >
          {UNITS.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      </div>
      <div className="cell">
        <span className="cell-label">Ground</span>
        <button
          type="button"
          className="plain"
          aria-pressed={greyGround}
          aria-label="Grey ground"
          onClick={() => setGreyGround(!greyGround)}
        >
          {greyGround ? "grey" : "paper"}
        </button>
      </div>
      <div className="cell wide" aria-live="polite">
        <span className="cell-label">Selected</span>
        <span className="cell-value">{selected}</span>
      </div>
      <div className="cell wide">
        <span className="cell-label">Adds up to</span>
        <span className="cell-value">{sum || "–"}</span>
      </div>
      {!isLive && (
        <div className="cell" role="status">
          <span className="cell-label">Server</span>
          <span className="cell-value mark look">not live</span>
        </div>
      )}
      <div className="cell">
        <span className="cell-label">
          {person.level === "look" ? "Looks" : person.level === "make" ? "Makes" : "Keeps"}
        </span>
        <Link to="/me" className="cell-value">
          {person.name}
        </Link>
      </div>
      <Form method="post" action="/sign-out" className="cell">
        <span className="cell-label">Session</span>
        <button type="submit" className="plain">
          sign out
        </button>
      </Form>
      <Calibration show={calibrating} onHide={() => setCalibrating(false)} />
    </footer>
  );
}

/** A bank card is 85.6 mm wide (ISO/IEC 7810), and everybody has one. */
const CARD = { width: 85.6, height: 53.98 };

function Calibration({ show, onHide }: { show: boolean; onHide(): void }) {
  const { screenPxPerMm, setScreenPxPerMm } = useView();
  return (
    <Modal show={show} onHide={onHide} size="lg" aria-labelledby="calibration">
      <Modal.Header closeButton>
        <Modal.Title id="calibration">Make 1:1 true on this screen</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>Hold a bank card to the screen and move the slider until the outline has its size.</p>
        <div
          className="card-outline"
          style={{ width: CARD.width * screenPxPerMm, height: CARD.height * screenPxPerMm }}
        />
        <Fields.Label htmlFor="px-per-mm">Size on this screen</Fields.Label>
        <Fields.Range
          id="px-per-mm"
          min={2}
          max={9}
          step={0.01}
          value={screenPxPerMm}
          onChange={(event) => setScreenPxPerMm(Number(event.target.value))}
        />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={() => setScreenPxPerMm(CSS_PX_PER_MM)}>
          As the browser assumes
        </Button>
        <Button onClick={onHide}>It fits</Button>
      </Modal.Footer>
    </Modal>
  );
}
