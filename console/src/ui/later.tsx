import { createElement, useEffect, useState, type ComponentType } from "react";
import { Failure, Skeleton } from "./States";

/**
 * A place whose code is fetched when it is first gone to. Not React's own way: that one
 * holds what has arrived back for 300 ms, so that fallbacks do not flicker.
 */
export function later(load: () => Promise<{ default: ComponentType }>) {
  let Loaded: ComponentType | null = null;
  let coming: Promise<void> | null = null;
  function fetch(): Promise<void> {
    coming ??= load().then(
      (module) => {
        Loaded = module.default;
      },
      (error: unknown) => {
        coming = null; // the next try asks anew
        throw error;
      },
    );
    return coming;
  }
  function Later() {
    const [failed, setFailed] = useState(false);
    const [, redraw] = useState(0);
    const wait = () => {
      setFailed(false);
      fetch().then(
        () => redraw((n) => n + 1),
        () => setFailed(true),
      );
    };
    const shown = Loaded;
    useEffect(() => {
      // Of what was drawn, not of what is there by now: the code may have come in between.
      if (!shown) wait();
    }, []);
    if (shown) return createElement(shown);
    if (failed) return <Failure error={new Error("This place could not be fetched: the service does not answer, or it was renewed. Reload the page if trying again does not help.")} again={wait} />;
    return <Skeleton lines={8} />;
  }
  Later.fetch = () => void fetch().catch(() => undefined);
  return Later;
}
