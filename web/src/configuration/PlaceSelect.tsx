import { useSearchParams } from 'react-router';
import { useDefinitions } from './drafting.ts';
import { pathOf } from './form/DefinitionForm.tsx';

const PARAMETER = 'place';

/** The place that a list is narrowed down to, in the address of the screen; empty: all of them. */
export function usePlaceFilter(): { readonly place: string; readonly choose: (place: string) => void } {
  const [address, setAddress] = useSearchParams();
  const choose = (place: string): void =>
    setAddress(
      (current) => {
        if (place === '') current.delete(PARAMETER);
        else current.set(PARAMETER, place);
        return current;
      },
      { replace: true },
    );
  return { place: address.get(PARAMETER) ?? '', choose };
}

/** The places in force, by their paths. */
export function usePlacePaths(): string[] {
  const { data: places = [] } = useDefinitions('place');
  return places
    .filter(({ inForce }) => inForce)
    .map(({ id }) => pathOf(id, places))
    .sort((a, b) => a.localeCompare(b, 'en'));
}

/** Choosing a place with all that lies in it. */
export function PlaceSelect({ place, choose }: ReturnType<typeof usePlaceFilter>) {
  const paths = usePlacePaths();
  return (
    <select
      aria-label="Only tags of a place"
      className="h-[30px] max-w-56 rounded-paper border border-rule bg-raised px-1 max-[1100px]:max-w-36"
      value={place}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="">all places</option>
      {place !== '' && !paths.includes(place) && <option>{place}</option>}
      {paths.map((path) => (
        <option key={path}>{path}</option>
      ))}
    </select>
  );
}
