/**
 * Draws single frames of a film. A browser's own player shows another frame than was asked for
 * where frames are not evenly apart, so each is decoded and known by its own time.
 */
import type { CanvasSink, Input, InputVideoTrack, WrappedCanvas } from "mediabunny"
import { type Film, FilmError, filmOf, frameAt } from "./frames"

/** So wide a picture is drawn at the most; a still is saved as large as it is. */
const MOST_WIDE = 1280
const KEPT = 40
/** So many frames before one that is gone back to are kept along: the next steps are back, too. */
const BEFORE = 12
/** Further on than this it is quicker to begin anew. */
const AHEAD = 40

type Canvas = WrappedCanvas["canvas"]

export class Frames {
  private readonly kept = new Map<number, Canvas>()
  private going: AsyncGenerator<WrappedCanvas, void, unknown> | null = null
  /** The frame that the decoder gave last. */
  private last = -1

  private constructor(
    readonly film: Film,
    readonly wide: number,
    readonly high: number,
    private readonly input: Input,
    private readonly sink: CanvasSink,
    private readonly whole: CanvasSink,
  ) {}

  /** Opens a film; says how many of its frames are known by now. */
  static async open(file: File, told: (frames: number) => void): Promise<Frames> {
    if (!("VideoDecoder" in window)) {
      throw new FilmError("This browser cannot draw single frames. Open this page in another one.")
    }
    // Taken by name, so that what writes films and reads sound stays out of the page.
    const { BlobSource, CanvasSink, EncodedPacketSink, Input, MATROSKA, MP4, QTFF, WEBM } =
      await import("mediabunny")
    const input = new Input({
      source: new BlobSource(file),
      formats: [MP4, QTFF, MATROSKA, WEBM],
    })
    try {
      const track = await pictureOf(file, input)
      const film = await filmIn(file, new EncodedPacketSink(track), told)
      const wide = await track.getDisplayWidth()
      const high = await track.getDisplayHeight()
      const drawn = new CanvasSink(track, { width: Math.min(MOST_WIDE, wide) })
      return new Frames(film, wide, high, input, drawn, new CanvasSink(track))
    } catch (error) {
      input.dispose()
      throw error
    }
  }

  closed = false

  close(): void {
    this.closed = true
    void this.going?.return()
    this.input.dispose()
  }

  /** The picture of a frame. */
  async at(frame: number): Promise<Canvas | null> {
    const known = this.kept.get(frame)
    if (known) return known
    if (this.going === null || frame <= this.last || frame > this.last + AHEAD) {
      const back = frame <= this.last && frame > this.last - KEPT
      await this.begin(back ? Math.max(0, frame - BEFORE) : frame)
    }
    while (this.going !== null) {
      const next = await this.going.next()
      if (next.done) break
      this.last = frameAt(this.film, next.value.timestamp)
      this.keep(this.last, next.value.canvas)
      if (this.last >= frame) break
    }
    return this.kept.get(frame) ?? null
  }

  /** A frame as large as it is. */
  async still(frame: number): Promise<Canvas | null> {
    const found = await this.whole.getCanvas(this.inside(frame))
    return found?.canvas ?? null
  }

  private async begin(frame: number): Promise<void> {
    await this.going?.return()
    this.going = this.sink.canvases(this.inside(frame))
    this.last = frame - 1
  }

  /** A moment that no rounding moves into the frame before. */
  private inside(frame: number): number {
    return (this.film.times[frame] ?? 0) + 1e-5
  }

  private keep(frame: number, canvas: Canvas): void {
    this.kept.set(frame, canvas)
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= KEPT) break
      this.kept.delete(oldest)
    }
  }
}

async function pictureOf(file: File, input: Input): Promise<InputVideoTrack> {
  const track = await input.getPrimaryVideoTrack().catch(() => {
    throw new FilmError(`${file.name} is no film that can be read here: .mp4, .mov, .mkv, .webm.`)
  })
  if (!track) throw new FilmError(`${file.name} has no picture.`)
  if (!(await track.canDecode())) {
    throw new FilmError(
      `This browser cannot draw ${file.name}. Save it as H.264 or VP9, and try again.`,
    )
  }
  return track
}

type Packets = {
  packets: (
    from: undefined,
    to: undefined,
    how: { metadataOnly: true },
  ) => AsyncIterable<{ timestamp: number; duration: number }>
}

async function filmIn(file: File, sink: Packets, told: (frames: number) => void): Promise<Film> {
  const times: number[] = []
  let [latest, lastS] = [Number.NEGATIVE_INFINITY, 0]
  for await (const packet of sink.packets(undefined, undefined, { metadataOnly: true })) {
    times.push(packet.timestamp)
    if (packet.timestamp > latest) {
      latest = packet.timestamp
      lastS = packet.duration
    }
    if (times.length % 5000 === 0) told(times.length)
  }
  return filmOf(file.name, times, lastS)
}
