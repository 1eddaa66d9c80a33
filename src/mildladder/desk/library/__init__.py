"""Steps and facts that playbooks share, and counting again where these change."""
