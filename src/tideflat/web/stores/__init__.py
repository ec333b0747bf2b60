"""What a studio owns: props, surfaces, backdrops, camera bodies, lenses."""
