import { z } from "zod";
import { type Db, rows } from "#server/db/database";

const deliveredSchema = z.object({
  destination: z.string(),
  path: z.string(),
  sha256: z.string(),
  /** Of the material that it was made of, then and now; nothing where that is not known. */
  revision: z.number().nullable(),
  newest: z.number().nullable(),
});
export type DeliveredFile = z.infer<typeof deliveredSchema>;

/** What lies at the destinations under one of these file names, whatever their case. A file is a material's by how both are called. */
export const findDeliveredFiles = (db: Db, names: string[]): Promise<DeliveredFile[]> =>
  rows(
    db,
    deliveredSchema,
    `SELECT f.destination, f.path, f.sha256, m.revision, m.newest
       FROM destination_files f
       LEFT JOIN LATERAL (
         SELECT dm.revision, m.revision AS newest FROM delivery_materials dm JOIN materials m ON m.id = dm.material
          WHERE dm.delivery = f.delivery AND position(m.file_name IN f.path) > 0
          ORDER BY length(m.file_name) DESC LIMIT 1) m ON true
      WHERE lower(substring(f.path FROM '[^/]*$')) = ANY ($1)
      ORDER BY f.destination, f.path`,
    [names],
  );

/** What lies at the destinations with one of these contents. */
export const findDeliveredHashes = (db: Db, hashes: string[]) =>
  rows(
    db,
    deliveredSchema.pick({ destination: true, path: true, sha256: true }),
    "SELECT destination, path, sha256 FROM destination_files WHERE sha256 = ANY ($1) ORDER BY destination, path",
    [hashes],
  );
