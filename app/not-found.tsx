import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="grid min-h-dvh place-content-center gap-3 text-center">
      <h1 className="text-xl font-semibold">Nothing is here</h1>
      <p className="text-quiet">The shot was removed, or the address is mistyped.</p>
      <Link href="/" className="btn btn-primary">
        To the projects
      </Link>
    </main>
  );
}
