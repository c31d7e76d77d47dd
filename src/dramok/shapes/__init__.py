"""What a new game can begin with: small skeletons of no world in particular, one JSON file each."""
