import { describe, expect, test } from "@jest/globals";
import { FORMATS } from "#core/gauge/formats";
import { gaugeRepeat } from "#core/gauge/repeat";
import { formatFields, formatWords } from "./formatFields";
import { EMPTY_GAUGE, readGauge } from "./readGauge";

const named = (id: string) => FORMATS.find((format) => format.id === id)!;

describe("a standard format", () => {
  test("fills in what is typed, in the unit at hand", () => {
    expect(formatFields(named("brick-gb"), "lying", "cm")).toMatchObject({
      method: "modules",
      moduleWidth: "21.5",
      moduleHeight: "6.5",
      joint: "1",
      jointVertical: "",
    });
  });

  test("that stands exchanges its sides, and its joints with them", () => {
    expect(formatFields(named("brick-dk"), "standing", "mm")).toMatchObject({
      moduleWidth: "54",
      moduleHeight: "228",
      joint: "12.67",
      jointVertical: "12",
    });
    expect(formatFields(named("board-deck-145"), "standing", "mm")).toMatchObject({
      moduleWidth: "145",
      moduleHeight: "",
      joint: "5",
    });
  });

  test("of a lapped product takes the way of cover sizes, and a twin board looks like two", () => {
    expect(formatFields(named("board-panel-twin"), "lying", "mm")).toMatchObject({
      method: "cover",
      moduleHeight: "200",
      looksAcross: "",
      looksDown: "2",
    });
  });

  test.each(FORMATS.map((format) => [format.id, format] as const))(
    "%s can be read again as a size",
    (_, format) => {
      for (const lie of ["lying", "standing"] as const)
        for (const unit of ["mm", "in"] as const) {
          const fields = { ...EMPTY_GAUGE, ...formatFields(format, lie, unit) };
          const reading = readGauge(
            { ...fields, across: fields.moduleWidth && "2", up: fields.moduleHeight && "2" },
            unit,
          );
          if (!("request" in reading)) throw new Error(JSON.stringify(reading));
          const { repeat } = gaugeRepeat({ width: 500, height: 500 }, reading.request);
          expect(Math.min(repeat.width, repeat.height)).toBeGreaterThan(10);
          expect(formatWords(format, unit)).toContain(format.name);
        }
    },
  );
});
