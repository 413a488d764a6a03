"""Everything that can be asked of a project, each answer worked out when first asked and kept as long as what it rests on."""
