import { describe, expect, it, vi } from "vitest";
import { ReviewPlayer, type PlayedFile, type PlayerOutput, type Sound } from "./review-player";

class FakeSound {
  currentTime = 0;
  paused = true;
  src = "";
  preload = "";
  readonly listeners = new Map<string, () => void>();
  refused: Error | null = null;
  addEventListener(event: string, listen: () => void) {
    this.listeners.set(event, listen);
  }
  tell(event: string) {
    this.listeners.get(event)?.();
  }
  play() {
    this.paused = this.refused !== null;
    return this.refused ? Promise.reject(this.refused) : Promise.resolve();
  }
  pause() {
    this.paused = true;
  }
  load() {}
}

function played() {
  const sounds = new Map<string, FakeSound>();
  const gains = new Map<string, number>();
  const output: PlayerOutput = {
    wake: vi.fn(),
    open(url) {
      const sound = new FakeSound();
      sounds.set(url, sound);
      return { sound: sound as unknown as Sound, setGain: (gain) => gains.set(url, gain) };
    },
  };
  const changed = vi.fn();
  return { player: new ReviewPlayer(output, changed), sounds, gains, changed, output };
}
const file = (url: string, more: Partial<PlayedFile> = {}): PlayedFile => ({
  ...{ position: 0, url, gainDb: 0, seconds: 60 },
  ...more,
});

describe("the player of a review", () => {
  it("goes on with another version where the former one was, at its own level, one heard at a time", () => {
    const { player, sounds, gains, output } = played();
    player.choose(file("a"), false);
    player.play();
    expect(output.wake).toHaveBeenCalled();
    sounds.get("a")!.currentTime = 12.5;
    player.choose(file("b", { gainDb: -6 }), true);
    expect([sounds.get("a")!.paused, sounds.get("b")!.paused]).toEqual([true, false]);
    expect(sounds.get("b")!.currentTime).toBe(12.5);
    expect(gains.get("b")).toBeCloseTo(0.501, 3);
    player.choose(file("c"), false);
    expect([sounds.get("b")!.paused, sounds.get("c")!.paused, player.time]).toEqual([true, true, 0]);
  });

  it("tells what was heard, and not what was jumped over", () => {
    const { player, sounds } = played();
    player.choose(file("a"), false);
    const sound = sounds.get("a")!;
    player.play();
    for (let at = 0; at <= 3; at += 0.25) {
      sound.currentTime = at;
      sound.tell("timeupdate");
    }
    player.seek(40);
    for (let at = 40; at <= 41; at += 0.25) {
      sound.currentTime = at;
      sound.tell("timeupdate");
    }
    expect(player.takeHeard()).toEqual([
      [0, 3],
      [40, 41],
    ]);
    expect(player.takeHeard()).toEqual([]);
  });

  it("stays within the file, and says when a browser cannot play it", async () => {
    const { player, sounds, changed } = played();
    player.choose(file("a"), false);
    player.seek(99);
    expect(player.time).toBe(60);
    player.seek(-5);
    expect(player.time).toBe(0);
    sounds.get("a")!.refused = Object.assign(new Error("no"), { name: "NotSupportedError" });
    player.toggle();
    await vi.waitFor(() => expect(changed).toHaveBeenLastCalledWith("This browser cannot play the file."));
    sounds.get("a")!.refused = null;
    player.toggle();
    expect(player.playing).toBe(true);
    player.close();
    expect(player.playing).toBe(false);
  });
});
