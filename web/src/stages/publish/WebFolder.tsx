import { useState } from "react"

/** The public pages as plain files, to be put on any web host. */
export function WebFolder({ slug }: { slug: string }) {
  const [address, setAddress] = useState("")
  const [listed, setListed] = useState(false)
  const asked = new URLSearchParams({ address: address.trim(), listed: listed ? "yes" : "no" })
  const wrong = address.trim() !== "" && !/^https?:\/\/[^\s"'<>?#]+$/.test(address.trim())
  return (
    <section aria-label="Web folder" className="mt-6">
      <h2 className="text-14">Put it on your own site</h2>
      <p className="text-13 text-mute">
        One folder of plain files: the answers, every figure, the tables and the data pack. It needs
        no server, and works under any path.
      </p>
      <label className="mt-2 block text-13 text-mute">
        Address it will have (optional; for previews beside links, and the feed)
        <input
          className="input input-sm mt-0.5 w-full bg-page text-base-content"
          placeholder="https://example.org/films/"
          value={address}
          aria-invalid={wrong}
          onChange={(event) => setAddress(event.target.value)}
        />
      </label>
      {wrong && (
        <p role="alert" className="text-13 text-accent">
          Type an address such as https://example.org/films/.
        </p>
      )}
      <label className="mt-2 flex items-center gap-2 text-13">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={listed}
          onChange={(event) => setListed(event.target.checked)}
        />
        Search engines may list it
      </label>
      {!wrong && (
        <a
          className="btn btn-sm mt-2 h-8"
          href={`/api/v1/shootouts/${slug}/public/folder.zip?${asked}`}
          download
        >
          Save as a web folder
        </a>
      )}
    </section>
  )
}
