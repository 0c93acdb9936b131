/** Moving about on a surface and coming nearer: the wheel, a drag with the mouse, two fingers. */
import { select } from "d3-selection";
import { zoom, zoomIdentity, type ZoomBehavior } from "d3-zoom";
import { onBeforeUnmount, onMounted, reactive, type Ref } from "vue";

export interface PanZoom {
  /** Where the surface's corner stands in its host, px, and how large it is drawn. */
  at: { x: number; y: number; k: number };
  /** Show it just so. */
  set: (to: { x: number; y: number; k: number }) => void;
  /** Nearer or farther by a factor, about a point of the host: its middle, where none is named. */
  by: (factor: number, about?: [number, number]) => void;
}

export function usePanZoom(
  host: Ref<HTMLElement | SVGSVGElement | undefined>,
  options: {
    least: number;
    most: number;
    /** Whether what is pressed down just now drags the surface. */
    drags: (event: Event) => boolean;
    /** Called when a person has moved it. */
    moved?: () => void;
  },
): PanZoom {
  const at = reactive({ x: 0, y: 0, k: 1 });
  let behaviour: ZoomBehavior<Element, unknown> | undefined;
  const surface = () => select<Element, unknown>(host.value!);
  onMounted(() => {
    behaviour = zoom<Element, unknown>()
      .scaleExtent([options.least, options.most])
      .filter((event: Event) => event.type === "wheel" || options.drags(event))
      .on("zoom", ({ transform, sourceEvent }) => {
        Object.assign(at, { x: transform.x, y: transform.y, k: transform.k });
        if (sourceEvent) options.moved?.();
      });
    surface().call(behaviour).on("dblclick.zoom", null);
  });
  onBeforeUnmount(() => host.value && surface().on(".zoom", null));
  return {
    at,
    set: ({ x, y, k }) => behaviour?.transform(surface(), zoomIdentity.translate(x, y).scale(k)),
    by: (factor, about) => behaviour?.scaleBy(surface(), factor, about),
  };
}
