import { describe, expect, it, vi } from "vitest";
import { take, whenNewer } from "../../web/src/shell/version";

/** A worker and a registration as far as they matter here. */
class Worker extends EventTarget {
  state = "installing";
  postMessage = vi.fn();
  become(state: string) {
    this.state = state;
    this.dispatchEvent(new Event("statechange"));
  }
}

class Registration extends EventTarget {
  installing: Worker | null = null;
  waiting: Worker | null = null;
  active: Worker | null = null;
  find() {
    const worker = new Worker();
    this.installing = worker;
    this.dispatchEvent(new Event("updatefound"));
    return worker;
  }
  installed(worker: Worker) {
    this.installing = null;
    this.waiting = worker;
    worker.become("installed");
  }
  get asReal() {
    return this as unknown as ServiceWorkerRegistration;
  }
}

function watched(registration: Registration) {
  const say = vi.fn();
  return { say, stop: whenNewer(registration.asReal, say) };
}

describe("a newer version", () => {
  it("is not the first one", () => {
    const registration = new Registration();
    const { say } = watched(registration);
    registration.installed(registration.find());
    expect(say).not.toHaveBeenCalled();
  });

  it.each(["found later", "on its way already", "waiting already"])("is told when %s", (how) => {
    const registration = new Registration();
    registration.active = new Worker();
    const early = how === "found later" ? null : registration.find();
    if (early && how === "waiting already") registration.installed(early);
    const { say } = watched(registration);
    if (how !== "waiting already") registration.installed(early ?? registration.find());
    expect(say).toHaveBeenCalled();
  });

  it("is told a second time it comes, and no more once nobody watches", () => {
    const registration = new Registration();
    registration.active = new Worker();
    const { say, stop } = watched(registration);
    registration.installed(registration.find());
    registration.installed(registration.find());
    expect(say).toHaveBeenCalledTimes(2);
    stop();
    registration.installed(registration.find());
    expect(say).toHaveBeenCalledTimes(2);
  });

  it("is taken when it serves, not before", () => {
    const registration = new Registration();
    const worker = new Worker();
    registration.waiting = worker;
    const then = vi.fn();
    take(registration.asReal, then);
    expect(worker.postMessage).toHaveBeenCalledWith({ type: "SKIP_WAITING" });
    worker.become("activating");
    expect(then).not.toHaveBeenCalled();
    worker.become("activated");
    expect(then).toHaveBeenCalledTimes(1);
  });

  it("is taken at once when another tab has taken it", () => {
    const then = vi.fn();
    take(new Registration().asReal, then);
    expect(then).toHaveBeenCalledTimes(1);
  });
});
