/** A vendor to be chosen, by name. */

import { useVendors } from "../../api/records";
import { Filter } from "../../components/filter";

export function VendorFilter({ value, onChange }: { value: string; onChange: (key: string) => void }) {
  const vendors = useVendors();
  return (
    <Filter name="Vendor" value={value} onChange={onChange}>
      {vendors.data?.map((vendor) => (
        <option key={vendor.key} value={vendor.key}>
          {vendor.name}
        </option>
      ))}
    </Filter>
  );
}
