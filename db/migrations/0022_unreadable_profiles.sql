-- A colour profile that is damaged, or of another kind of samples: the colours are taken for sRGB, and that is said.
ALTER TABLE images ADD COLUMN profile_unreadable boolean NOT NULL DEFAULT false;

-- Of a range in floating point it is known from now on whether all channels hold it.
UPDATE images SET float_range = float_range || jsonb_build_object('grey', channels <= 2) WHERE float_range IS NOT NULL;
