"""What traits of head and body say of age, and how much each counts."""
