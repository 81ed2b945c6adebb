import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="plain-page">
      <h1>There is no such page.</h1>
      <Link href="/">To the jobs</Link>
    </main>
  );
}
