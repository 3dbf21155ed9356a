-- Modules are counted in another way: what was counted before is counted anew when it is next looked at.
DELETE FROM module_counts;
