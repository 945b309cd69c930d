namespace Junctra.Core.Facts;

/// <summary>
/// A fact whose values mean something: what rules, gates and the twin ask for, so that texts stay at the edges (files, pages, links). It
/// stands for its name wherever a name is wanted.
/// </summary>
/// <typeparam name="T">What its values mean.</typeparam>
public sealed class FactOf<T>
{
    private readonly FactForm<T> form;

    /// <summary>Takes its declaration.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="form">The form of its values.</param>
    internal FactOf(FactName name, FactForm<T> form) => (Name, this.form) = (name, form);

    /// <summary>Its name.</summary>
    public FactName Name { get; }

    /// <summary>Its name as files write it.</summary>
    public string Value => Name.Value;

    /// <inheritdoc cref="FactName.Label"/>
    public string Label => Name.Label;

    /// <inheritdoc cref="FactName.LabelInText"/>
    public string LabelInText => Name.LabelInText;

    /// <inheritdoc cref="FactName.Unit"/>
    public string Unit => Name.Unit;

    /// <summary>What a stored value means.</summary>
    /// <returns>Whether it is a value of this fact.</returns>
    public bool TryRead(string text, out T value) => form.TryRead(text, out value);

    /// <summary>A meaning as it is stored.</summary>
    public string Write(T value) => form.Write(value);

    /// <summary>This fact with a meaning, as claims are compared.</summary>
    public (FactName Fact, string Value) Means(T value) => (Name, form.Write(value));

    /// <summary>A claim that it means something.</summary>
    public Fact Claim(T value, FactSource source, DateTimeOffset at, string recordedBy) =>
        new(Name, form.Write(value), source, at, recordedBy);

    /// <inheritdoc cref="FactName.ExpiresBy"/>
    public bool ExpiresBy(WriteTouch touched) => Name.ExpiresBy(touched);

    /// <summary>The fact's name.</summary>
    public static implicit operator FactName(FactOf<T> fact) => fact.Name;

    /// <inheritdoc/>
    public override string ToString() => Value;
}
