using Junctra.Store;
using Microsoft.AspNetCore.Authorization;

namespace Junctra.Web.Staff;

/// <summary>Who may do what. Everything but sign-in and health needs somebody who is signed in; acts need a role besides.</summary>
public static class Policies
{
    /// <summary>Takes phones in and hands them back.</summary>
    public const string Counter = "counter";

    /// <summary>Works on phones.</summary>
    public const string Bench = "bench";

    /// <summary>Writes down what the customer said; whoever talks to the customer.</summary>
    public const string CounterOrBench = "counter-or-bench";

    /// <summary>Changes shop rules, catalogue and staff.</summary>
    public const string Lead = "lead";

    /// <summary>Everybody who works here, for what changes nothing.</summary>
    public const string Anyone = "anyone";

    /// <summary>Everybody who works here, also by a program with a personal token.</summary>
    public const string AnyoneOrProgram = "anyone-or-program";

    /// <summary>Adds the policies.</summary>
    /// <param name="options">Where they are added.</param>
    /// <param name="leadsNeedSecondFactor">Whether what a lead may do asks for a sign-in with a second factor.</param>
    public static void Add(AuthorizationOptions options, bool leadsNeedSecondFactor)
    {
        options.FallbackPolicy = new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build();
        options.AddPolicy(Counter, policy => policy.RequireRole(StaffRoles.Counter));
        options.AddPolicy(Bench, policy => policy.RequireRole(StaffRoles.Bench));
        options.AddPolicy(CounterOrBench, policy => policy.RequireRole(StaffRoles.Counter, StaffRoles.Bench));
        options.AddPolicy(Anyone, policy => policy.RequireAuthenticatedUser());
        options.AddPolicy(AnyoneOrProgram, policy => policy.AddAuthenticationSchemes(Api.MatchApi.EitherScheme).RequireAuthenticatedUser());
        options.AddPolicy(Lead, policy =>
        {
            policy.RequireRole(StaffRoles.Lead);
            if (leadsNeedSecondFactor)
                policy.RequireClaim(SecondFactor.MethodClaim, SecondFactor.Several);
        });
    }

    /// <summary>Who acts under a policy, for a sentence.</summary>
    public static string Says(string policy) =>
        policy switch
        {
            CounterOrBench => "the counter or the bench",
            _ => $"the {policy}",
        };
}
