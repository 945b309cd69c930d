using Junctra.Cli;

return await CommandLine.Root().Parse(args).InvokeAsync();
