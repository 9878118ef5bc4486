"""What is drawn or laid out for people: elevations, the power chain, the build sheet, two builds side by side."""
