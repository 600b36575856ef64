"""What the codes say, one subject to a module. Rules take loads and an edition, give lines."""
