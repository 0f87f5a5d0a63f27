/** The leaf of several marked tags: what they share, what differs, and changing it for all of them. */
import { EditPanel } from '../configuration/EditPanel.tsx';
import { Leaf } from '../frame/Leaf.tsx';

/** Fields of which each tag has its own. */
const OWN = ['name', 'address', 'since'];

export function ManyTagsLeaf({ ids, onClose }: { readonly ids: readonly number[]; readonly onClose: () => void }) {
  return (
    <Leaf title={`${ids.length} tags`} below="What is changed here is changed for all of them." onClose={onClose}>
      <EditPanel kind="tag" ids={ids} without={OWN} />
    </Leaf>
  );
}
