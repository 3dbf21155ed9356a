-- Up Migration
-- Why a material was left as it was when all were judged again. Some databases have the column already.
ALTER TABLE remake_materials ADD COLUMN IF NOT EXISTS reason text;
