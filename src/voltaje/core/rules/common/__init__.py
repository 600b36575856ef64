"""What the rules of every code share: noncoincident loads, fault contribution, fuses, heat."""
