-- The entitlements of a vendor in all their versions, each with what a ruling needs, in one row; the last line says
-- which of them. Of the listed serials only those of :about, if it is given.
SELECT e.reference, c.number, e.level, e.rank, e.route, e.starts_on, e.ends_on, e.needs, e.hours, e.countries,
       e.everything, e.reach, listed.serials, listed.models, listed.listings,
       coalesce((SELECT t.grace_days FROM contract_term t
                 WHERE t.contract_id = c.id AND e.ends_on BETWEEN t.starts_on AND t.ends_on), c.grace_days) AS grace_days,
       (SELECT min(later.starts_on) FROM entitlement later
        WHERE later.contract_id = e.contract_id AND later.reference = e.reference
          AND later.starts_on > e.starts_on) AS replaced_on,
       ARRAY(SELECT p.part_number FROM entitlement_product ep JOIN product p ON p.id = ep.product_id
             WHERE ep.entitlement_id = e.id ORDER BY p.part_number) AS products,
       ARRAY(SELECT s.key FROM entitlement_site es JOIN site s ON s.id = es.site_id
             WHERE es.entitlement_id = e.id ORDER BY s.key) AS sites
FROM entitlement e
JOIN contract c ON c.id = e.contract_id
CROSS JOIN LATERAL (
    SELECT array_agg(a.serial ORDER BY a.serial) FILTER (WHERE ea.from_on IS NULL AND ea.until_on IS NULL) AS serials,
           array_agg(DISTINCT p.part_number) FILTER (WHERE p.id IS NOT NULL) AS models,
           json_agg(json_build_object('serial', a.serial, 'from_on', ea.from_on, 'until_on', ea.until_on)
                    ORDER BY a.serial) FILTER (WHERE ea.from_on IS NOT NULL OR ea.until_on IS NOT NULL) AS listings
    FROM entitlement_asset ea
    JOIN asset a ON a.id = ea.asset_id
    JOIN product p ON p.id = a.product_id
    WHERE ea.entitlement_id = e.id AND (CAST(:about AS text[]) IS NULL OR a.id = ANY(:about))
) AS listed
WHERE c.vendor_id = :vendor AND {which}
