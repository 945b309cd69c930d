namespace Junctra.Web.Tests;

// Worlds that several classes share, because one takes seconds to start. Tests of one collection follow each other, so each finds the
// world as a working day leaves it, and must not count on being the first.

/// <summary>The stations of jobs, and the pages around them.</summary>
[CollectionDefinition(nameof(StationsWorld))]
public sealed class StationsWorld : ICollectionFixture<WebWorld>;

/// <summary>Who may come in, and what is refused at the door.</summary>
[CollectionDefinition(nameof(DoorsWorld))]
public sealed class DoorsWorld : ICollectionFixture<WebWorld>;

/// <summary>Files that come into the library.</summary>
[CollectionDefinition(nameof(ArrivalsWorld))]
public sealed class ArrivalsWorld : ICollectionFixture<WebWorld>;

/// <summary>Practice.</summary>
[CollectionDefinition(nameof(PracticeWorld))]
public sealed class PracticeWorld : ICollectionFixture<WebWorld>;
