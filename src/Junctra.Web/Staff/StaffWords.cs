using Microsoft.AspNetCore.Identity;

namespace Junctra.Web.Staff;

/// <summary>What went wrong with an account, in our words.</summary>
internal static class StaffWords
{
    public static string Of(IdentityResult result) =>
        string.Join(
            " ",
            result
                .Errors.Select(error =>
                    error.Code switch
                    {
                        nameof(IdentityErrorDescriber.DuplicateUserName) => "That name is taken.",
                        nameof(IdentityErrorDescriber.InvalidUserName) => "A name is lower-case letters, digits, dots and hyphens.",
                        nameof(IdentityErrorDescriber.PasswordTooShort) => $"A password has {StaffSetup.MinPassword} characters at least.",
                        nameof(IdentityErrorDescriber.PasswordRequiresUniqueChars) => "The password repeats too few characters.",
                        nameof(IdentityErrorDescriber.PasswordMismatch) => "The present password is not right.",
                        nameof(IdentityErrorDescriber.ConcurrencyFailure) =>
                            "Somebody else changed this account at the same moment. Look again, then repeat.",
                        _ => error.Description,
                    }
                )
                .Distinct()
        );
}
