/** What the address of a stop shows belongs to the layout. */
export default function StopRoute() {
  return null;
}
