"""What every part of the window works on: workspace, work beside the window, commands as data, dialogs, theme."""
