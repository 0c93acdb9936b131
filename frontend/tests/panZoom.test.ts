import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { createApp, defineComponent, h, ref, type App } from "vue";
import { usePanZoom, type PanZoom } from "../src/parts/panZoom";

/** A surface on a screen of 800 by 600. */
let surface: PanZoom;
let host: HTMLElement;
let app: App;
let drags = true;
let moved = 0;

beforeEach(() => {
  drags = true;
  moved = 0;
  const root = document.createElement("div");
  document.body.append(root);
  app = createApp(
    defineComponent(() => {
      const el = ref<HTMLElement>();
      surface = usePanZoom(el, { least: 0.5, most: 8, drags: () => drags, moved: () => moved++ });
      return () => h("div", { ref: el, class: "surface" });
    }),
  );
  app.mount(root);
  host = root.querySelector<HTMLElement>(".surface")!;
  Object.defineProperty(host, "clientWidth", { value: 800 });
  Object.defineProperty(host, "clientHeight", { value: 600 });
});
afterEach(() => app.unmount());

/** Where a point of the surface stands in its host. */
const seen = (x: number, y: number) => [surface.at.x + x * surface.at.k, surface.at.y + y * surface.at.k];
const mouse = (type: string, x: number, y: number, on: EventTarget = host) =>
  on.dispatchEvent(
    new MouseEvent(type, { clientX: x, clientY: y, button: 0, view: window, bubbles: true, cancelable: true } as never),
  );

describe("a surface that is moved about on", () => {
  it("is shown just so, and nobody has moved it", () => {
    surface.set({ x: 12, y: -7, k: 2 });
    expect(surface.at).toEqual({ x: 12, y: -7, k: 2 });
    expect(moved).toBe(0);
  });

  it("comes nearer about its middle, or about a point that is named", () => {
    surface.set({ x: 100, y: 50, k: 1 });
    const middle = [300, 250];
    expect(seen(middle[0], middle[1])).toEqual([400, 300]);
    surface.by(2);
    expect(surface.at.k).toBe(2);
    expect(seen(middle[0], middle[1])).toEqual([400, 300]);
    const corner = [(0 - surface.at.x) / 2, (0 - surface.at.y) / 2];
    surface.by(1.5, [0, 0]);
    expect(surface.at.k).toBe(3);
    seen(corner[0], corner[1]).forEach((c) => expect(c).toBeCloseTo(0));
  });

  it("stays within its limits", () => {
    for (let k = 0; k < 20; k++) surface.by(2);
    expect(surface.at.k).toBe(8);
    for (let k = 0; k < 20; k++) surface.by(0.5);
    expect(surface.at.k).toBe(0.5);
  });

  it("follows the wheel about the pointer", () => {
    surface.set({ x: 0, y: 0, k: 1 });
    const here = [200, 100];
    const turned = new WheelEvent("wheel", { deltaY: -300, bubbles: true, cancelable: true });
    // The page of the tests gives a wheel no place.
    Object.defineProperties(turned, { clientX: { value: here[0] }, clientY: { value: here[1] } });
    host.dispatchEvent(turned);
    expect(surface.at.k).toBeGreaterThan(1);
    seen(here[0], here[1]).forEach((c, k) => expect(c).toBeCloseTo(here[k]));
    expect(moved).toBeGreaterThan(0);
  });

  it("is dragged only where what is pressed drags it", () => {
    surface.set({ x: 5, y: 5, k: 1 });
    drags = false;
    mouse("mousedown", 10, 10);
    mouse("mousemove", 60, 40, window);
    mouse("mouseup", 60, 40, window);
    expect(surface.at).toEqual({ x: 5, y: 5, k: 1 });
    drags = true;
    mouse("mousedown", 10, 10);
    mouse("mousemove", 60, 40, window);
    mouse("mouseup", 60, 40, window);
    expect(surface.at).toEqual({ x: 55, y: 35, k: 1 });
    expect(moved).toBeGreaterThan(0);
  });

  it("lets go when it leaves the screen", () => {
    surface.set({ x: 5, y: 5, k: 1 });
    app.unmount();
    mouse("mousedown", 10, 10);
    mouse("mousemove", 60, 40, window);
    expect(surface.at).toEqual({ x: 5, y: 5, k: 1 });
  });
});
