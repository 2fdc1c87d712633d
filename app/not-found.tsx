import Link from "next/link";

export default function NotFound() {
  return (
    <main className="p-8">
      <h1 className="text-head font-semibold">There is nothing at this address.</h1>
      <p className="mt-2">
        <Link className="text-act underline" href="/">
          Back to the library
        </Link>
      </p>
    </main>
  );
}
